import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import { Link, redirect, useNavigate } from "react-router";
import { countTouches, layOutPath } from "../../../core/sequence/lay-out-path";
import type { Path } from "../../../core/sequence/path";
import { webApp } from "../../../server/app";
import { allLists } from "../../../server/prospects/lists/lists";
import {
  createFrom,
  importSequence,
  shelf,
  takeOffShelf,
  whomOf,
  writeTo,
} from "../../../server/sequences/keep-sequences";
import { userContext } from "../../accounts/session";
import { FileButton } from "../../components/file-button";
import { lazily } from "../../components/lazily";
import { MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { readForm, unknownIntent } from "../../desk/read-form";
import { BroughtLine } from "../../results/brought-line";
import { Timeline } from "../../timeline/timeline";

import { drawPlan } from "../plan-drawing";
import { planWords } from "../plan-words";
import type { Route } from "./+types/new";

const BriefDialog = lazily(() => import("../brief-dialog"), "BriefDialog");

export function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const wanted = Number(new URL(request.url).searchParams.get("list"));
  const list = allLists(app, context.get(userContext).id).find(({ id }) => id === wanted);
  return {
    points: shelf(app, context.get(userContext).id),
    list: list ?? null,
    whom: list ? whomOf(app, list.id) : "",
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const userId = context.get(userContext).id;
  const form = await readForm(request);
  switch (form.intent) {
    case "begin": {
      const made = createFrom(app, userId, form.point ?? "blank", form.name ?? "");
      if (made.ok && form.list) writeTo(app, userId, made.value, Number(form.list));
      return made.ok ? redirect(`/sequences/${made.value}`) : made;
    }
    case "import": {
      const made = importSequence(app, userId, form.file ?? "", form.name ?? "");
      if (made.ok && form.list) writeTo(app, userId, made.value, Number(form.list));
      return made.ok ? redirect(`/sequences/${made.value}`) : made;
    }
    case "take_off":
      return takeOffShelf(app, userId, form.point ?? "");
    default:
      return unknownIntent(form.intent);
  }
}

export default function NewSequence({ loaderData }: Route.ComponentProps) {
  const { points, list } = loaderData;
  const act = useAction();
  const [name, setName] = useState(list?.name ?? "");
  const [chosen, setChosen] = useState(points[0]?.id ?? "blank");
  const [briefing, setBriefing] = useState(false);
  const navigate = useNavigate();
  const point = points.find(({ id }) => id === chosen);
  /** Whatever way is taken, the name and the list come along. */
  const carried = { name, list: String(list?.id ?? "") };
  const begin = (id: string) => act.press({ intent: "begin", point: id, ...carried });

  async function takeFile(file: File | undefined): Promise<void> {
    if (file) act.press({ intent: "import", file: await file.text(), ...carried });
  }
  return (
    <Page
      heading="How shall it begin?"
      sub={
        <>
          {list && (
            <>
              For the {list.count} people of “{list.name}”.{" "}
            </>
          )}
          A starting point is a draft: nothing goes out before you have filled in its blanks, read it and
          started it.
        </>
      }
      margin={
        point && (
          <>
            <MarginNote title={point.name}>
              <Typography>{point.about}</Typography>
              <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
                {planWords(layOutPath(point.path))}
              </Typography>
              {point.own && (
                <Button
                  size="small"
                  variant="text"
                  sx={{ mt: 1 }}
                  onClick={() => act.press({ intent: "take_off", point: point.id })}
                >
                  Take it off the shelf
                </Button>
              )}
            </MarginNote>
            <MarginNote title="How it runs">
              <Small path={point.path} />
            </MarginNote>
          </>
        )
      }
    >
      <Refusal errors={act.errors} />
      <Box sx={{ display: "flex", gap: 1.25, alignItems: "flex-start", mb: 2.5, flexWrap: "wrap" }}>
        <TextField
          name="name"
          label="Name of the sequence"
          value={name}
          onChange={({ target }) => setName(target.value)}
          sx={{ width: 260 }}
        />
        <Button variant="contained" onClick={() => begin("blank")} disabled={act.isBusy} sx={{ height: 40 }}>
          Begin with an empty page
        </Button>
        <Button sx={{ height: 40 }} onClick={() => setBriefing(true)}>
          Have it drafted
        </Button>
        <FileButton
          label="From a file"
          name="Sequence file"
          button={{ sx: { height: 40 } }}
          accept=".json,application/json"
          onFile={(file) => void takeFile(file)}
        />
        <Box sx={{ flex: 1 }} />
        <Button variant="text" component={Link} to="/sequences">
          Back to the list
        </Button>
      </Box>
      {briefing && (
        <Suspense>
          <BriefDialog
            task="sequence"
            whom={loaderData.whom}
            carried={carried}
            onClose={() => setBriefing(false)}
            onDraft={({ id }) => void navigate(`/sequences/${id}`)}
          />
        </Suspense>
      )}
      <Shelf points={points} chosen={chosen} isBusy={act.isBusy} onChoose={setChosen} onBegin={begin} />
    </Page>
  );
}

function Shelf(props: {
  points: Route.ComponentProps["loaderData"]["points"];
  chosen: string;
  isBusy: boolean;
  onChoose: (id: string) => void;
  onBegin: (id: string) => void;
}) {
  const { points, chosen, onChoose, onBegin } = props;
  return (
    <>
      <Typography variant="h2" sx={{ mb: 1.25 }}>
        From the shelf
      </Typography>
      <Box
        component="ul"
        sx={{
          listStyle: "none",
          m: 0,
          p: 0,
          display: "grid",
          gap: 1.25,
          gridTemplateColumns: "repeat(auto-fill, minmax(270px, 1fr))",
        }}
      >
        {points.map(({ id, name: title, about, path, brought }) => (
          <Box
            component="li"
            key={id}
            sx={{
              bgcolor: "background.paper",
              border: "1px solid",
              borderColor: id === chosen ? "tile.main" : "divider",
              borderRadius: 1,
              p: 1.75,
              display: "flex",
              flexDirection: "column",
            }}
          >
            <Box
              component="button"
              type="button"
              aria-pressed={id === chosen}
              onClick={() => onChoose(id)}
              sx={{
                all: "unset",
                cursor: "pointer",
                flex: 1,
                "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
              }}
            >
              <Typography variant="h3">{title}</Typography>
              <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
                {about}
              </Typography>
              <BroughtLine brought={brought} sx={{ mt: 0.75 }} />
            </Box>
            <Box sx={{ display: "flex", alignItems: "center", mt: 1 }}>
              <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
                {shortPlan(path)}
              </Typography>
              <Button
                size="small"
                onClick={() => onBegin(id)}
                disabled={props.isBusy}
                aria-label={`Begin with “${title}”`}
              >
                Begin
              </Button>
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}

function shortPlan(path: Path): string {
  const drawing = layOutPath(path);
  const touches = [...countTouches(drawing).channels.values()].reduce((sum, number) => sum + number, 0);
  return `${touches} touches, ${drawing.days} days`;
}

function Small({ path }: { path: Path }) {
  const {
    drawing: _,
    outline: __,
    dropPlaces: ___,
    ...plan
  } = drawPlan(path, { today: 1, isWrong: () => false });
  return <Timeline {...plan} name="How it runs" mostHeight={260} />;
}
