import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { FIELD_WORDS } from "../../../core/prospects/fields";
import { STAGE_NAMES } from "../../../core/prospects/stages";
import { readTogether, webApp } from "../../../server/app";
import { done, type Outcome } from "../../../server/errors";
import { latestOf } from "../../../server/jobs/job-state";
import {
  askDuplicates,
  type DuplicateGroup,
  decideDuplicates,
  openDuplicates,
  type Side,
} from "../../../server/prospects/duplicates/duplicates";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { Tick } from "../../components/tick";
import { useAction } from "../../components/use-action";
import { count } from "../../components/words";
import { readForm } from "../../desk/read-form";
import { UndoButton } from "../../undo/undo-line";
import { AddressPill } from "../address-pill";
import { JobProgress } from "../job-progress";
import { ListQuality } from "../list-margin";
import { ListTabs } from "../list-tabs";
import { NextStep } from "../next-step";
import { requireList } from "../require-list";
import { DUPLICATE_WORDS } from "../words";
import type { Route } from "./+types/list-duplicates";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  return readTogether(app, () => {
    const { list, state } = requireList(app, context.get(userContext).id, params.id);
    return {
      list,
      state,
      ...openDuplicates(app, context.get(userContext).id, list.id),
      job: latestOf(app, "duplicates"),
    };
  });
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<number[]>> {
  const app = webApp();
  const userId = context.get(userContext).id;
  const form = await readForm(request);
  if (form.intent === "look") {
    askDuplicates(app, userId);
    return done([]);
  }
  return decideDuplicates(app, context.get(userContext), form);
}

export default function DuplicatesPage({ loaderData }: Route.ComponentProps) {
  const { list, state, groups, total, listed, byRule, job } = loaderData;
  const shown = useSteadyGroups(groups);
  const open = new Set(groups.map(keyOf));
  const look = useAction();
  return (
    <Page
      heading={
        total === 0
          ? `Nobody on “${list.name}” seems to be there twice`
          : `${count(total, "pair")} on “${list.name}” may be the same`
      }
      sub={
        total > 0
          ? "The side you keep gets the other's history, lists, notes and blanks. If either is blocked, both are."
          : undefined
      }
      actions={
        <>
          <Button
            onClick={() => look.press({ intent: "look" })}
            disabled={job?.state === "working" || job?.state === "waiting"}
          >
            Look through everybody again
          </Button>
          <NextStep list={list} state={state} at="duplicates" isQuiet={total > 0} />
        </>
      }
      margin={
        <>
          <MarginNote title="What is merged by itself">
            <Typography>
              The same name at the same company, where one of the two has no address; the same profile; a
              company that is known by name only. {count(byRule, "pair")} so far. Two addresses are always
              yours to decide.
            </Typography>
          </MarginNote>
          <ListQuality state={state} title={`“${list.name}”`} />
        </>
      }
    >
      <Refusal errors={look.errors} />
      <ListTabs list={list} state={state} />
      <JobProgress job={job} doing="Looking for duplicates" unit="people" onlyWhileRunning />
      {shown.map((group) => (
        <Group key={keyOf(group)} group={group} isOpen={open.has(keyOf(group))} />
      ))}
      {total > listed && (
        <Typography color="textSecondary">{count(total - listed, "more pair")} after these.</Typography>
      )}
      {total === 0 && shown.length === 0 && (
        <Empty
          title="Nothing to decide"
          text="Duplicates are looked for after every import. When two entries may be one person or one company, they stand here side by side."
        />
      )}
    </Page>
  );
}

const ROWS: [keyof Side, string][] = [
  ...(["email", "title", "company", "city", "phone"] as const).map((field): [keyof Side, string] => [
    field,
    FIELD_WORDS[field],
  ]),
  ["lists", "Lists"],
];
const COMPANY_ROWS: [keyof Side, string][] = [
  ["email", "Web domain"],
  ["title", "People"],
];

const keyOf = ({ kind, sides }: DuplicateGroup) => `${kind} ${sides.map(({ id }) => id).join()}`;

/**
 * The questions as they stood when the page was opened: a decided one keeps its place, with its undo, so
 * that no other's buttons come to lie where a moment ago its own were.
 */
function useSteadyGroups(groups: DuplicateGroup[]): DuplicateGroup[] {
  const [shown, setShown] = useState(groups);
  const fresh = groups.filter((group) => !shown.some((each) => keyOf(each) === keyOf(group)));
  if (fresh.length > 0) setShown([...shown, ...fresh]);
  return shown;
}

/** What the entries of a question are called when they are all different. */
const allDifferent = (count: number) => (count === 2 ? "They are two" : "All are different");

function Group({ group, isOpen }: { group: DuplicateGroup; isOpen: boolean }) {
  const { kind, sides, reasons, pairIds } = group;
  const decide = useAction<number[]>();
  const [keepId, setKeepId] = useState<number | null>(null);
  const [same, setSame] = useState<ReadonlySet<number>>(new Set(sides.map(({ id }) => id)));
  const card = useRef<HTMLFormElement>(null);
  const [height, setHeight] = useState(0);
  const busy = decide.isBusy;
  const name = (side: Side) => (kind === "person" ? side.email || side.name : side.name);
  const send = (choice: Record<string, string>) => {
    setHeight(card.current?.offsetHeight ?? 0);
    decide.press({ pairs: pairIds.join(), ...choice });
  };
  const keep = (side: Side) => {
    setKeepId(side.id);
    send({ keepId: String(side.id), same: [...same].join() });
  };
  const others = sides.filter(({ id }) => id !== keepId && same.has(id));
  const kept = sides.find(({ id }) => id === keepId);
  const isWide = sides.length > 3;
  const toggle = (id: number) => {
    const next = new Set(same);
    if (!next.delete(id)) next.add(id);
    setSame(next);
  };
  // Decided here, or in another tab or by a teammate, whatever was pressed here after them.
  const undoIds = decide.value;
  if (undoIds !== null || !isOpen)
    return (
      <Card ref={card} label={sides.map(name).join(" and ")} minHeight={height}>
        <Box sx={{ display: "flex", alignItems: "center", gap: 2 }}>
          <Typography sx={{ flex: 1 }}>
            {undoIds === null
              ? "Decided elsewhere."
              : kept
                ? `${others.map(name).join(", ")} became one with ${name(kept)}.`
                : `${sides.map(name).join(", ")}: kept apart.`}
          </Typography>
          {undoIds !== null && undoIds.length > 0 && <UndoButton ids={undoIds} />}
        </Box>
      </Card>
    );
  return (
    <Card ref={card} label={sides.map(({ name }) => name).join(" and ")}>
      <Refusal errors={decide.errors} />
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Pill tone="ochre">{kind === "person" ? "One person?" : "One company?"}</Pill>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {reasons.map((reason) => DUPLICATE_WORDS[reason]).join(", ")}
          {kind === "person" ? " at one company" : `, ${sides.length} web domains`}
        </Typography>
        <Button size="small" disabled={busy} onClick={() => send({})}>
          {allDifferent(sides.length)}
        </Button>
      </Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: isWide ? "minmax(0,1fr)" : `90px repeat(${sides.length}, minmax(0, 1fr))`,
          columnGap: 2,
          rowGap: 0.4,
        }}
      >
        {isWide
          ? sides.map((side) => (
              <Box
                key={side.id}
                sx={{
                  display: "flex",
                  alignItems: "center",
                  gap: 1,
                  borderTop: "1px solid",
                  borderColor: "divider",
                  py: 0.5,
                }}
              >
                <Checkbox
                  size="small"
                  checked={same.has(side.id)}
                  onChange={() => toggle(side.id)}
                  slotProps={{ input: { "aria-label": `${name(side)} is the same` } }}
                />
                <Box sx={{ flex: 1, minWidth: 0 }}>
                  <Title kind={kind} side={side} />
                  <Typography variant="body2" color="textSecondary" noWrap>
                    {[side.email, side.title, side.city].filter(Boolean).join(" · ")}
                  </Typography>
                </Box>
                <Button size="small" disabled={busy || same.size < 2} onClick={() => keep(side)}>
                  Keep this one
                </Button>
              </Box>
            ))
          : columns(kind, sides)}
        {!isWide && <span />}
        {!isWide &&
          sides.map((side) => (
            <Box
              key={side.id}
              sx={{ mt: 1, display: "flex", alignItems: "center", gap: 0.5, flexWrap: "wrap" }}
            >
              <Button
                size="small"
                disabled={busy || !same.has(side.id) || same.size < 2}
                onClick={() => keep(side)}
              >
                Keep {name(side)}
              </Button>
              {sides.length > 2 && (
                <Tick label="is the same" checked={same.has(side.id)} onChange={() => toggle(side.id)} />
              )}
            </Box>
          ))}
      </Box>
    </Card>
  );
}

function Card(props: {
  ref: React.Ref<HTMLFormElement>;
  label: string;
  minHeight?: number;
  children: React.ReactNode;
}) {
  return (
    <Paper
      variant="outlined"
      component="section"
      ref={props.ref}
      aria-label={props.label}
      data-row
      sx={{ p: 2, mb: 2, minHeight: props.minHeight || undefined }}
    >
      {props.children}
    </Paper>
  );
}

const Title = ({ kind, side }: { kind: DuplicateGroup["kind"]; side: Side }) => (
  <Typography sx={{ fontWeight: 650 }}>
    {kind === "person" ? <Link to={`/prospects/${side.id}`}>{side.name || side.email}</Link> : side.name}
  </Typography>
);

function columns(kind: DuplicateGroup["kind"], sides: Side[]) {
  return (
    <>
      <span />
      {sides.map((side) => (
        <Title key={side.id} kind={kind} side={side} />
      ))}
      {(kind === "person" ? ROWS : COMPANY_ROWS).map(([field, label]) => (
        <Row key={field} label={label} sides={sides} field={field} />
      ))}
      {kind === "person" && (
        <>
          <Typography variant="body2" color="textSecondary">
            So far
          </Typography>
          {sides.map((side) => (
            <Typography key={side.id} variant="body2">
              {STAGE_NAMES[side.stage]} · {count(side.sent, "email")} sent ·{" "}
              {count(side.replies, "reply", "replies")} {side.verdict && <AddressPill of={side} />}{" "}
              {side.blocked === 1 && <Pill tone="clay">Blocked</Pill>}
            </Typography>
          ))}
        </>
      )}
    </>
  );
}

function Row({ label, sides, field }: { label: string; sides: Side[]; field: keyof Side }) {
  const values = sides.map((side) => String(side[field] ?? ""));
  if (values.every((value) => value === "")) return null;
  const differs = new Set(values).size > 1;
  return (
    <>
      <Typography variant="body2" color="textSecondary">
        {label}
      </Typography>
      {sides.map((side, at) => (
        <Typography
          key={side.id}
          variant="body2"
          sx={{
            bgcolor: differs ? "ochre.wash" : undefined,
            px: differs ? 0.75 : 0,
            borderRadius: 0.5,
            overflowWrap: "anywhere",
            justifySelf: "start",
          }}
        >
          {values[at] || "–"}
        </Typography>
      ))}
    </>
  );
}
