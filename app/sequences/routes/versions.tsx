import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { data, Link, redirect, useSearchParams } from "react-router";
import { webApp } from "../../../server/app";
import { refused } from "../../../server/errors";
import { sequenceForm, sequenceOf } from "../../../server/sequences/open-sequence";
import { saveSequence } from "../../../server/sequences/save-sequence";
import { versionPath, versionsOf } from "../../../server/sequences/versions";
import { userContext } from "../../accounts/session";
import { Choice } from "../../components/choice";
import { MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readForm } from "../../desk/read-form";
import { SideBySide } from "../save-dialogs";
import type { Route } from "./+types/versions";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const sequence = sequenceOf(app, context.get(userContext).id, Number(params.id));
  if (!sequence || sequence.deletedAt !== null)
    throw data("This sequence does not exist, or no longer.", { status: 404 });
  const versions = versionsOf(app, sequence.id);
  const query = new URL(request.url).searchParams;
  const known = (text: string | null) => versions.find(({ number }) => number === Number(text))?.number;
  const right = known(query.get("right")) ?? sequence.version;
  const left = known(query.get("left")) ?? versions.find(({ number }) => number < right)?.number ?? right;
  return {
    name: sequence.name,
    latest: sequence.version,
    versions,
    left,
    right,
    before: versionPath(app, sequence.id, left),
    after: versionPath(app, sequence.id, right),
    zone: context.get(userContext).zone,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const id = Number(params.id);
  const user = context.get(userContext);
  const sequence = sequenceOf(app, user.id, id);
  if (!sequence) return refused({ form: "This sequence no longer exists." });
  const number = Number((await readForm(request)).version);
  if (!versionsOf(app, id).some((version) => version.number === number))
    return refused({ form: "This version does not exist. Reload the page." });
  const saved = saveSequence(app, { ...sequenceForm(sequence), path: versionPath(app, id, number) }, user.id);
  return saved.ok ? redirect(`/sequences/${id}`) : saved;
}

export default function Versions({ loaderData, params }: Route.ComponentProps) {
  const { versions, left, right, latest, before, after, zone } = loaderData;
  const [, setQuery] = useSearchParams();
  const act = useAction();
  const choice = (name: "left" | "right", value: number) => (
    <Choice
      label={name === "left" ? "Left" : "Right"}
      value={value}
      onChange={(chosen) =>
        setQuery((query) => {
          query.set(name, String(chosen));
          return query;
        })
      }
      sx={{ width: 260 }}
      options={versions.map(
        ({ number, at, by }) =>
          [number, `Version ${number}, ${dayTime(at, zone)}${by === null ? "" : `, ${by}`}`] as const,
      )}
    />
  );
  return (
    <Page
      heading={
        versions.length === 1 ? "There is one version so far" : `${versions.length} versions, side by side`
      }
      sub={<Link to={`/sequences/${params.id}`}>{loaderData.name}</Link>}
      actions={
        left !== latest && (
          <Button
            variant="contained"
            disabled={act.isBusy}
            onClick={() => act.press({ version: String(left) })}
          >
            Bring version {left} back
          </Button>
        )
      }
      margin={
        <>
          <MarginNote title="Who is on which">
            {versions.map(({ number, underWay }) => (
              <Typography key={number}>
                Version {number}: {count(underWay, "person", "people")} under way
              </Typography>
            ))}
          </MarginNote>
          <MarginNote title="Bringing one back">
            <Typography>
              It becomes the newest version; none is lost. People under way are moved to it: nobody gets a
              step twice.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={act.errors} />
      {versions.length === 1 ? (
        <Typography>
          Version {latest}, of {dayTime(versions[0]?.at ?? 0, zone)}, is the only one. The first change to its
          steps makes another, and then they stand here side by side, with who is on which.
        </Typography>
      ) : (
        <>
          <Box sx={{ display: "flex", gap: 2, mb: 2 }}>
            {choice("left", left)}
            {choice("right", right)}
          </Box>
          <Paper variant="outlined" sx={{ p: 1 }}>
            <SideBySide before={before} after={after} titles={[`Version ${left}`, `Version ${right}`]} />
          </Paper>
        </>
      )}
    </Page>
  );
}
