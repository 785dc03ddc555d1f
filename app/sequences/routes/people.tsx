import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { data, Link, useSearchParams } from "react-router";
import { z } from "zod";
import { everyNode, everyStep } from "../../../core/sequence/path";
import { webApp } from "../../../server/app";
import { refused, whenDone } from "../../../server/errors";
import { sequenceOf } from "../../../server/sequences/open-sequence";
import {
  type ChangedPeople,
  changePeople,
  sequencePeople,
  standingsOf,
} from "../../../server/sequences/sequence-people";
import { userContext } from "../../accounts/session";
import { Empty, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Refusal } from "../../components/refusal";
import { SearchField } from "../../components/search-field";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readJson, readPage } from "../../desk/read-form";
import { UndoLine } from "../../undo/undo-line";
import { PeopleMargin } from "../people-margin";
import { PeopleTable, WithChosen } from "../people-table";
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
    steps: everyStep(sequence.path).map(({ id, name, kind }) => ({ id, name, kind })),
    places: everyNode(sequence.path).flatMap((node) =>
      node.kind === "end" ? [] : [{ id: node.id, name: node.name || "A fork" }],
    ),
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
    z.object({ do: z.enum(["pause", "resume", "take_out", "start_again", "accepted"]) }),
    z.object({ do: z.literal("move"), to: z.string() }),
  ]),
});

interface Changed extends ChangedPeople {
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
  return whenDone(outcome, (changed): Changed => ({ ...changed, did: read.data.action.do }));
}

const DID = {
  pause: "paused",
  resume: "go on",
  take_out: "taken out",
  start_again: "started again",
  move: "moved",
  accepted: "accepted the invitation",
} satisfies Record<string, string>;
const STATES = { active: "under way", finished: "through", stopped: "stopped" } as const;

export default function SequencePeople({ loaderData, params }: Route.ComponentProps) {
  const { people, standings, steps, filter, page } = loaderData;
  const [, setQuery] = useSearchParams();
  const [chosen, setChosen] = useState<number[]>([]);
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
      margin={<PeopleMargin {...loaderData} set={set} />}
    >
      <Refusal errors={act.errors} />
      {done && done.undo === null && (
        <Alert severity={done.changed > 0 ? "success" : "info"} sx={{ mb: 1.5 }}>
          {done.changed > 0
            ? `${count(done.changed, "person", "people")} ${DID[done.did]}.`
            : "Nothing of this could be done with whom you chose."}
        </Alert>
      )}
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", minHeight: 48, mb: 1, flexWrap: "wrap" }}>
        {chosen.length > 0 ? (
          <WithChosen chosen={chosen} steps={steps} zone={loaderData.zone} send={send} />
        ) : (
          <>
            <SearchField
              value={filter.search}
              label="Search"
              placeholder="Name, company or address"
              onSearch={(text) => set("search", text)}
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
        <PeopleTable {...loaderData} chosen={chosen} onChoose={setChosen} />
      )}
      <Pager page={page} pageSize={people.pageSize} total={people.total} />
      <UndoLine
        words={done?.undo ? `${count(done.changed, "person", "people")} ${DID[done.did]}.` : null}
        ids={done?.undo ? [done.undo] : []}
      />
    </Page>
  );
}
