import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, useSearchParams } from "react-router";
import { z } from "zod";
import type { WaitReason } from "../../../core/sending/reasons";
import { everyStep } from "../../../core/sequence/path";
import { webApp } from "../../../server/app";
import { refused, whenDone } from "../../../server/errors";
import { sequenceOf } from "../../../server/sequences/open-sequence";
import { changePeople, sequencePeople, standingsOf } from "../../../server/sequences/sequence-people";
import { userContext } from "../../accounts/session";
import { Choice } from "../../components/choice";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count, SHORT_WAITS, stopWords, waitSentence, when } from "../../components/words";
import { readJson, readPage } from "../../desk/read-form";
import { WhyButton } from "../../why/why-dialog";
import type { Route } from "./+types/people";

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const sequence = sequenceOf(app, context.get(userContext).id, Number(params.id));
  if (!sequence || sequence.deletedAt !== null)
    throw data("This sequence does not exist, or no longer.", { status: 404 });
  const query = new URL(request.url).searchParams;
  const filter = {
    standing: query.get("standing") ?? "",
    placeId: query.get("step"),
    search: query.get("search") ?? "",
  };
  const page = readPage(query);
  return {
    name: sequence.name,
    steps: everyStep(sequence.path).map(({ id, name }) => ({ id, name })),
    filter,
    page,
    people: sequencePeople(app, sequence.id, filter, page),
    standings: standingsOf(app, sequence.id),
    now: app.clock.now(),
    zone: context.get(userContext).zone,
  };
}

const actionForm = z.object({
  journeyIds: z.array(z.number().int()).max(500),
  action: z.union([
    z.object({ do: z.enum(["pause", "resume", "take_out", "start_again"]) }),
    z.object({ do: z.literal("move"), to: z.string() }),
  ]),
});

interface Changed {
  changed: number;
  did: keyof typeof DID;
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const sequence = sequenceOf(app, context.get(userContext).id, Number(params.id));
  const read = actionForm.safeParse(await readJson(request));
  if (!sequence || !read.success)
    return refused({ form: "This could not be read. Reload the page and try again." });
  const outcome = changePeople(app, user.id, sequence, read.data.journeyIds, read.data.action);
  return whenDone(outcome, (changed): Changed => ({ changed, did: read.data.action.do }));
}

const DID = {
  pause: "paused",
  resume: "go on",
  take_out: "taken out",
  start_again: "started again",
  move: "moved",
} satisfies Record<string, string>;
const STATES = { active: "under way", finished: "through", stopped: "stopped" } as const;

export default function SequencePeople({ loaderData, params }: Route.ComponentProps) {
  const { people, standings, steps, filter, page, now, zone } = loaderData;
  const [, setQuery] = useSearchParams();
  const [chosen, setChosen] = useState<number[]>([]);
  const [moveTo, setMoveTo] = useState("");
  const act = useAction<Changed>({ as: "json" });
  const set = (name: string, value: string | null) =>
    setQuery(
      (before) => {
        if (value === null || value === "") before.delete(name);
        else before.set(name, value);
        before.delete("page");
        return before;
      },
      { replace: true },
    );
  const send = (body: Record<string, unknown>) => {
    act.press({ journeyIds: chosen, action: body });
    setChosen([]);
  };
  const total = (state: string) =>
    standings.states.filter((each) => each.state === state).reduce((sum, each) => sum + each.count, 0);
  const all = total("active") + total("finished") + total("stopped");
  const done = act.isBusy ? null : act.value;
  const nameOf = (id: string | null) => steps.find((step) => step.id === id)?.name ?? "a fork";
  const shown = people.rows.map(({ journeyId }) => journeyId);
  return (
    <Page
      heading={
        all === 0
          ? "Nobody is in this sequence yet"
          : `${total("active")} of ${all} are under way, ${total("finished")} through, ${total("stopped")} stopped`
      }
      sub={<Link to={`/sequences/${params.id}`}>{loaderData.name}</Link>}
      actions={
        <Button variant="contained" component={Link} to={`/sequences/${params.id}/start`}>
          Start for more people
        </Button>
      }
      margin={
        <>
          <MarginNote title="Under way, by what they wait for">
            {standings.states
              .filter(({ state }) => state === "active")
              .map(({ reason, count: number }) => (
                <Filter
                  key={reason ?? ""}
                  number={number}
                  words={reason === null ? "being planned" : SHORT_WAITS[reason as WaitReason]}
                  pressed={filter.standing === `active:${reason ?? ""}`}
                  onPress={() =>
                    set("standing", filter.standing === `active:${reason}` ? null : `active:${reason ?? ""}`)
                  }
                />
              ))}
          </MarginNote>
          <MarginNote title="By the step they stand before">
            {steps
              .map((step) => ({
                ...step,
                number: standings.places.find(({ placeId }) => placeId === step.id)?.count ?? 0,
              }))
              .filter(({ number }) => number > 0)
              .map(({ id, name, number }) => (
                <Filter
                  key={id}
                  number={number}
                  words={name}
                  pressed={filter.placeId === id}
                  onPress={() => set("step", filter.placeId === id ? null : id)}
                />
              ))}
          </MarginNote>
          <MarginNote title="Stopped because">
            {standings.states
              .filter(({ state }) => state === "stopped")
              .map(({ reason, count: number }) => (
                <Filter
                  key={reason ?? ""}
                  number={number}
                  words={stopWords(reason as Parameters<typeof stopWords>[0])}
                  pressed={filter.standing === `stopped:${reason ?? ""}`}
                  onPress={() =>
                    set(
                      "standing",
                      filter.standing === `stopped:${reason}` ? null : `stopped:${reason ?? ""}`,
                    )
                  }
                />
              ))}
          </MarginNote>
        </>
      }
    >
      <Refusal errors={act.errors} />
      {done && (
        <Alert severity={done.changed > 0 ? "success" : "info"} sx={{ mb: 1.5 }}>
          {done.changed > 0
            ? `${count(done.changed, "person", "people")} ${DID[done.did]}.`
            : "Nothing of this could be done with whom you chose."}
        </Alert>
      )}
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", minHeight: 48, mb: 1, flexWrap: "wrap" }}>
        {chosen.length > 0 ? (
          <>
            <Typography sx={{ fontWeight: 650, mr: 1 }}>
              {count(chosen.length, "person", "people")}
            </Typography>
            <Button onClick={() => send({ do: "pause" })}>Pause</Button>
            <Button onClick={() => send({ do: "resume" })}>Let go on</Button>
            <Choice
              label="Move to"
              value={moveTo}
              onChange={(chosen) => {
                setMoveTo("");
                send({ do: "move", to: chosen });
              }}
              sx={{ width: 170 }}
              options={steps.map(({ id, name }) => [id, name] as const)}
            />
            <Button onClick={() => send({ do: "start_again" })}>Start again</Button>
            <Box sx={{ flex: 1 }} />
            <Button variant="text" onClick={() => send({ do: "take_out" })}>
              Take out
            </Button>
          </>
        ) : (
          <>
            <TextField
              placeholder="Name, company or address"
              defaultValue={filter.search}
              onChange={({ target }) => set("search", target.value)}
              slotProps={{ htmlInput: { "aria-label": "Search" } }}
              sx={{ width: 250 }}
            />
            {(Object.keys(STATES) as (keyof typeof STATES)[]).map((state) => (
              <Button
                key={state}
                size="small"
                aria-pressed={filter.standing === state}
                onClick={() => set("standing", filter.standing === state ? null : state)}
                sx={filter.standing === state ? { bgcolor: "tile.wash", fontWeight: 700 } : {}}
              >
                {total(state)} {STATES[state]}
              </Button>
            ))}
          </>
        )}
      </Box>
      {people.rows.length === 0 ? (
        <Empty
          title="Nobody here"
          text={all === 0 ? "Start it for the people of its list." : "Nobody fits these filters."}
        />
      ) : (
        <Box
          component="table"
          sx={{
            width: "100%",
            borderCollapse: "collapse",
            "& td, & th": {
              py: 0.6,
              px: 1,
              textAlign: "left",
              borderTop: "1px solid",
              borderColor: "divider",
            },
          }}
        >
          <thead>
            <tr>
              <th style={{ width: 36 }}>
                <Checkbox
                  size="small"
                  checked={shown.every((id) => chosen.includes(id))}
                  onChange={({ target }) => setChosen(target.checked ? shown : [])}
                  slotProps={{ input: { "aria-label": "Choose all on this page" } }}
                  sx={{ p: 0 }}
                />
              </th>
              {["Who", "Stands before", "What next"].map((title) => (
                <Typography component="th" variant="label" color="textSecondary" key={title}>
                  {title}
                </Typography>
              ))}
            </tr>
          </thead>
          <tbody>
            {people.rows.map((row) => (
              <tr key={row.journeyId} data-row>
                <td>
                  <Checkbox
                    size="small"
                    checked={chosen.includes(row.journeyId)}
                    onChange={({ target }) =>
                      setChosen(
                        target.checked
                          ? [...chosen, row.journeyId]
                          : chosen.filter((id) => id !== row.journeyId),
                      )
                    }
                    slotProps={{ input: { "aria-label": `Choose ${row.name}` } }}
                    sx={{ p: 0 }}
                  />
                </td>
                <td>
                  <Link to={`/prospects/${row.prospectId}`}>{row.name}</Link>
                  <Typography component="span" color="textSecondary" sx={{ ml: 1 }}>
                    {row.company}
                  </Typography>
                </td>
                <td>{row.state === "active" ? nameOf(row.placeId) : "–"}</td>
                <td>
                  {row.state === "active" ? (
                    row.waitReason === null ? (
                      row.nextAt === null ? (
                        "being planned"
                      ) : (
                        when(row.nextAt, now, zone)
                      )
                    ) : (
                      waitSentence(row.waitReason, row.waitDetail, row.nextAt, now, zone)
                    )
                  ) : (
                    <Pill tone={row.state === "finished" ? "tile" : "kelp"}>
                      {row.state === "finished" ? "through" : stopWords(row.stopReason)}
                    </Pill>
                  )}{" "}
                  <WhyButton journeyId={row.journeyId} sx={{ py: 0, minWidth: 0 }} />
                </td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
      <Pager page={page} pageSize={people.pageSize} total={people.total} />
    </Page>
  );
}

function Filter(props: { number: number; words: string; pressed: boolean; onPress: () => void }) {
  return (
    <Button
      variant="text"
      size="small"
      aria-pressed={props.pressed}
      onClick={props.onPress}
      sx={{
        display: "flex",
        width: "100%",
        justifyContent: "flex-start",
        gap: 1,
        py: 0.25,
        px: 0.5,
        fontWeight: props.pressed ? 700 : 500,
        color: "text.primary",
        whiteSpace: "normal",
        textAlign: "left",
      }}
    >
      <Box component="span" sx={{ minWidth: 34, textAlign: "right", fontWeight: 700 }}>
        {props.number}
      </Box>
      {props.words}
    </Button>
  );
}
