import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import { styled } from "@mui/material/styles";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import { Link, redirect, useSearchParams } from "react-router";
import { z } from "zod";
import { fold } from "../../../core/fold";
import { WAITS_FOR_SOMEBODY } from "../../../core/sending/reasons";
import { webApp } from "../../../server/app";
import type { Outcome } from "../../../server/errors";
import { whenDone } from "../../../server/errors";
import {
  archiveSequence,
  deleteSequence,
  duplicateSequence,
  putOnShelf,
  restoreSequence,
} from "../../../server/sequences/keep-sequences";
import { listSequences, type SequenceSummary } from "../../../server/sequences/list-sequences";
import { type Waiting, whatHolds } from "../../../server/sequences/what-holds";
import { userContext } from "../../accounts/session";
import { lazily } from "../../components/lazily";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { PlainSelect } from "../../components/plain-select";
import { PlainTextField } from "../../components/plain-text-field";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { useAction } from "../../components/use-action";
import { count, GOAL_REACHED, SHORT_WAITS, when } from "../../components/words";
import { readForm, readText, unknownIntent } from "../../desk/read-form";
import { STATE_PILLS } from "../state-pills";
import type { Route } from "./+types/sequences";

const SequenceMenu = lazily(() => import("../sequence-menu"), "SequenceMenu");

export function loader({ context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const sequences = listSequences(app, user.id);
  const waiting = whatHolds(
    app,
    sequences.map(({ id }) => id),
  );
  return { sequences, waiting, now: app.clock.now(), zone: user.zone };
}

interface Said {
  words?: string | undefined;
  deleted?: { id: number; name: string; stopped: number[] };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const id = Number(form.id);
  const said = (outcome: Outcome<unknown>, words?: string) => whenDone(outcome, (): Said => ({ words }));
  switch (form.intent) {
    case "duplicate": {
      const copy = duplicateSequence(app, user.id, id);
      return copy.ok ? redirect(`/sequences/${copy.value}`) : copy;
    }
    case "archive":
    case "bring_back":
      return said(archiveSequence(app, user.id, id, form.intent === "archive"));
    case "shelf":
      return said(
        putOnShelf(app, user.id, id, ""),
        "It stands on the shelf now, for everybody who begins a new one.",
      );
    case "delete":
      return whenDone(deleteSequence(app, user.id, id), (gone): Said => ({ deleted: { id, ...gone } }));
    case "restore": {
      const stopped = z.array(z.coerce.number().int()).catch([]).parse(readText(form.stopped));
      return said(restoreSequence(app, user.id, id, stopped), "It is back.");
    }
    default:
      return unknownIntent(form.intent);
  }
}

/** A running sequence that nobody is on any more has done its work until the list grows. */
const THROUGH = ["tile", "Everyone is through"] as const;

function heading(sequences: SequenceSummary[]): string {
  const active = sequences.reduce((sum, each) => sum + each.figures.active, 0);
  if (sequences.length === 0) return "No sequence yet";
  if (active === 0) return "Nobody is on their way through a sequence";
  return `${count(active, "person is", "people are")} on ${active === 1 ? "the" : "their"} way`;
}

const SORTS = {
  next: "next email first",
  name: "by name",
  answered: "most answers first",
  people: "most people first",
} as const;
type Sort = keyof typeof SORTS;

const rate = ({ figures: { answered, reached } }: SequenceSummary) =>
  reached === 0 ? -1 : answered / reached;
const ORDER: Record<Sort, (a: SequenceSummary, b: SequenceSummary) => number> = {
  next: (a, b) => (a.nextAt ?? Number.MAX_VALUE) - (b.nextAt ?? Number.MAX_VALUE) || a.id - b.id,
  name: (a, b) => a.name.localeCompare(b.name),
  answered: (a, b) => rate(b) - rate(a),
  people: (a, b) => b.figures.started - a.figures.started,
};

export default function Sequences({ loaderData }: Route.ComponentProps) {
  const { sequences, now, zone } = loaderData;
  const [query, setQuery] = useSearchParams();
  const { press, value: said, errors } = useAction<Said>();
  const search = query.get("search") ?? "";
  const tag = query.get("tag");
  const sort = (Object.keys(SORTS) as Sort[]).find((each) => each === query.get("sort")) ?? "next";
  const isArchive = query.get("show") === "archive";
  const set = (name: string, value: string | null) =>
    setQuery(
      (before) => {
        if (value) before.set(name, value);
        else before.delete(name);
        return before;
      },
      { replace: true },
    );
  const shown = sequences
    .filter(
      (each) =>
        each.isArchived === isArchive &&
        (tag === null || each.tags.includes(tag)) &&
        fold(`${each.name} ${each.ownerName} ${each.tags.join(" ")}`).includes(fold(search)),
    )
    .sort(ORDER[sort]);
  const tags = [...new Set(sequences.flatMap((each) => each.tags))].sort();
  const archived = sequences.filter((each) => each.isArchived).length;
  const deleted = said?.deleted;
  return (
    <Page
      heading={heading(sequences)}
      actions={
        sequences.length > 0 && (
          <>
            <Button component={Link} to="/pages">
              Pages for prospects
            </Button>
            <Button variant="contained" component={Link} to="/sequences/new">
              Write a new one
            </Button>
          </>
        )
      }
      margin={
        <>
          <WaitingNotes waiting={loaderData.waiting} sequences={sequences} />
          <MarginNote title="How a sequence ends for somebody">
            <Typography>
              By itself, as soon as they reply, book a call, opt out or their address bounces. Whatever was
              still planned for them is cancelled at once, on every channel. An automatic “I am away” is no
              reply.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={errors} />
      {said?.words && (
        <Alert severity="success" sx={{ mb: 1.5 }}>
          {said.words}
        </Alert>
      )}
      {deleted && (
        <Alert
          severity="info"
          sx={{ mb: 1.5 }}
          action={
            <Button
              size="small"
              onClick={() =>
                press({
                  intent: "restore",
                  id: String(deleted.id),
                  stopped: JSON.stringify(deleted.stopped),
                })
              }
            >
              Undo
            </Button>
          }
        >
          “{deleted.name}” is deleted
          {deleted.stopped.length > 0 &&
            `, and stopped for ${count(deleted.stopped.length, "person", "people")}`}
          .
        </Alert>
      )}
      {sequences.length === 0 ? (
        <Empty
          title="Write the first one"
          text="A few touches over two or three weeks, by email and beyond. Each waits some working days after the one before, and everything stops by itself when somebody answers."
          action={
            <Button variant="contained" component={Link} to="/sequences/new">
              Choose how to begin
            </Button>
          }
        />
      ) : (
        <>
          <Box sx={{ display: "flex", gap: 1.25, mb: 1.5, alignItems: "center", flexWrap: "wrap" }}>
            <PlainTextField
              aria-label="Search sequences"
              placeholder="Name, owner or tag"
              value={search}
              onChange={({ target }) => set("search", target.value)}
              sx={{ width: 220 }}
            />
            <PlainSelect
              aria-label="Order"
              value={sort}
              onChange={(chosen) => set("sort", chosen)}
              options={Object.entries(SORTS)}
              sx={{ width: 190 }}
            />
            {tags.length > 0 && (
              <ToggleButtonGroup
                size="small"
                exclusive
                value={tag}
                onChange={(_, value) => set("tag", value)}
                aria-label="Tags"
              >
                {tags.map((each) => (
                  <ToggleButton key={each} value={each} sx={{ textTransform: "none", py: 0.5 }}>
                    {each}
                  </ToggleButton>
                ))}
              </ToggleButtonGroup>
            )}
            {(archived > 0 || isArchive) && (
              <Button variant="text" onClick={() => set("show", isArchive ? null : "archive")}>
                {isArchive ? "Back to those in use" : `${archived} put away`}
              </Button>
            )}
          </Box>
          {shown.map((sequence) => (
            <SequenceRow
              key={sequence.id}
              sequence={sequence}
              now={now}
              zone={zone}
              onAct={(intent) => press({ intent, id: String(sequence.id) })}
            />
          ))}
          {shown.length === 0 && <Typography color="textSecondary">No sequence fits.</Typography>}
        </>
      )}
    </Page>
  );
}

/** What everybody on the way waits for: first what only somebody here can end. */
function WaitingNotes({ waiting, sequences }: { waiting: Waiting[]; sequences: SequenceSummary[] }) {
  const nameOf = new Map(sequences.map(({ id, name }) => [id, name]));
  const parts = [
    ["What waits for you", waiting.filter(({ reason }) => WAITS_FOR_SOMEBODY.has(reason))],
    ["What goes on by itself", waiting.filter(({ reason }) => !WAITS_FOR_SOMEBODY.has(reason))],
  ] as const;
  return parts.map(([title, group]) =>
    group.length === 0 ? null : (
      <MarginNote key={title} title={title}>
        {group.map(({ reason, detail, people, sequenceIds }) => (
          <Typography key={`${reason} ${detail}`} sx={{ mb: 0.75 }}>
            <b>{people.toLocaleString("en-GB")}</b>{" "}
            {detail ? `lack the ${detail.replaceAll("_", " ")}` : SHORT_WAITS[reason]}
            <Typography component="span" variant="body2" color="textSecondary" sx={{ display: "block" }}>
              {sequenceIds.map((id, nth) => (
                <span key={id}>
                  {nth > 0 && ", "}
                  <Link to={`/sequences/${id}/people`}>{nameOf.get(id)}</Link>
                </span>
              ))}
            </Typography>
          </Typography>
        ))}
      </MarginNote>
    ),
  );
}

function SequenceRow(props: {
  sequence: SequenceSummary;
  now: number;
  zone: string;
  onAct: (intent: string) => void;
}) {
  const { sequence, now, zone, onAct } = props;
  const { figures, goal } = sequence;
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [tone, word] =
    sequence.state === "running" && figures.started > 0 && figures.active === 0
      ? THROUGH
      : STATE_PILLS[sequence.state];
  const choose = (intent: string) => {
    setMenu(null);
    onAct(intent);
  };
  return (
    <Row data-row sx={{ alignItems: "center", gap: 0, py: 0 }}>
      <Box
        component={Link}
        to={`/sequences/${sequence.id}`}
        sx={{
          flex: 1,
          minWidth: 0,
          display: "grid",
          gridTemplateColumns: {
            xs: "minmax(0, 1fr) 90px",
            sm: "minmax(0, 1fr) 105px 112px 132px 96px 62px",
          },
          gap: 1.5,
          alignItems: "center",
          py: 1.75,
          px: 0.5,
          color: "inherit",
          textDecoration: "none",
          "&:hover": { bgcolor: "background.paper" },
          "& > :nth-of-type(n + 3)": { display: { xs: "none", sm: "block" } },
        }}
      >
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="h2" component="h2" noWrap>
            {sequence.name} <Pill tone={tone}>{word}</Pill>
          </Typography>
          <Typography variant="body2" color="textSecondary" noWrap>
            {count(sequence.steps, "step")} over {count(sequence.days, "working day")} · {sequence.ownerName}
            {sequence.isPersonal && ", personal"}
            {sequence.tags.length > 0 && ` · ${sequence.tags.join(", ")}`}
            {sequence.nextAt !== null && ` · next ${when(sequence.nextAt, now, zone)}`}
          </Typography>
        </Box>
        <Figure value={String(figures.active)} words={`of ${figures.started} on the way`} />
        {/* What it calls success comes first. */}
        <Rate part={sequence.cameTo} whole={figures.reached} words={GOAL_REACHED[goal]} />
        {RATES.filter(([, , isGoal]) => isGoal !== goal)
          .slice(0, 2)
          .map(([name, words]) => (
            <Rate key={name} part={figures[name]} whole={figures.reached} words={words} />
          ))}
        <Figure value={String(figures.optedOut)} words="opted out" />
      </Box>
      <IconButton
        aria-label={`More for ${sequence.name}`}
        onClick={(event) => setMenu(event.currentTarget)}
        sx={{ fontSize: 18 }}
      >
        ⋯
      </IconButton>
      {menu && (
        <Suspense>
          <SequenceMenu anchor={menu} sequence={sequence} onClose={() => setMenu(null)} onChoose={choose} />
        </Suspense>
      )}
    </Row>
  );
}

/** What is said besides a sequence's goal; the goal that says the same, last. */
const RATES = [
  ["answered", GOAL_REACHED.reply, "reply"],
  ["positive", GOAL_REACHED.interested, "interested"],
  ["booked", "booked", "meeting"],
] as const;

/** A share of those who were reached, with its base: "10 %", "14 of 142 answered". */
function Rate({ part, whole, words }: { part: number; whole: number; words: string }) {
  return whole === 0 ? (
    <Figure value="–" words={words} />
  ) : (
    <Figure value={`${Math.round((100 * part) / whole)} %`} words={`${part} of ${whole} ${words}`} />
  );
}

function Figure({ value, words }: { value: string; words: string }) {
  return (
    <FigureBox>
      <b>{value}</b>
      <span>{words}</span>
    </FigureBox>
  );
}

const FigureBox = styled("div")(({ theme: { palette, typography } }) => ({
  "& b": { ...typography.body1, display: "block", fontWeight: 600 },
  "& span": { ...typography.caption, color: palette.text.secondary },
}));
