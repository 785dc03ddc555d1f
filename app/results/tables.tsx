/** The tables of a sequence's results, one for each question. On a phone a row's figures stand below its name, each with its word. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { lazy, Suspense } from "react";
import { Link } from "react-router";
import { beliefOf, compareRates } from "../../core/results/beta";
import type { Green } from "../../core/results/credit";
import { amount, percent } from "../../core/results/figure-words";
import { timeName } from "../../core/results/finding-words";
import type { WordedStep } from "../../core/results/findings";
import { ATTRIBUTE_WORDS, groupValue } from "../../core/results/group-words";
import type { Group } from "../../core/results/groups";
import type { Hour, Stretch } from "../../core/results/hours";
import type { HowLong } from "../../core/results/how-long";
import { FALSE_SHARE } from "../../core/results/many";
import { shareOf } from "../../core/results/share";
import { verdictOf } from "../../core/results/wordings";
import type { LoadLine } from "../../server/results/loads";
import type { StepResult } from "../../server/results/one-sequence";
import type { WeekLine } from "../../server/results/overview";
import { count, dayOfMonth } from "../components/words";
import { Interval } from "./interval";
import { GREEN_WORDS, likely } from "./words";

const Heat = lazy(() => import("./heat"));

/** A column's cell: figures to the right. The first column names the row. */
export interface Column<Row> {
  title: string;
  of: (row: Row) => React.ReactNode;
}

export function Figures<Row>({
  name,
  rows,
  keyOf,
  columns,
  file,
}: {
  name: string;
  rows: readonly Row[];
  keyOf: (row: Row) => string;
  columns: readonly Column<Row>[];
  /** Where it is as a file, if the page's own download gives another table. */
  file?: string;
}) {
  return (
    <Box tabIndex={0} role="group" aria-label={name} sx={{ overflowX: "auto" }}>
      <Table size="small" sx={{ bgcolor: "background.paper", ...STACKED }}>
        <TableHead>
          <TableRow>
            {columns.map(({ title }, nth) => (
              <TableCell key={title} align={nth === 0 ? "left" : "right"}>
                {title}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row) => (
            <TableRow key={keyOf(row)}>
              {columns.map(({ title, of }, nth) => (
                <TableCell
                  key={title}
                  align={nth === 0 ? "left" : "right"}
                  {...(nth > 0 && { "data-label": title })}
                >
                  {of(row)}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {file && <DownloadThis name={name} file={file} />}
    </Box>
  );
}

export const DownloadThis = ({ name, file }: { name: string; file: string }) => (
  <Button variant="text" size="small" href={file} download aria-label={`Download “${name}”`}>
    Download
  </Button>
);

const STACKED = {
  "& td[data-label]": { whiteSpace: "nowrap" },
  "& th": { fontSize: 12, color: "text.secondary", whiteSpace: "nowrap" },
  "& td a": { color: "inherit" },
  "@media (max-width: 599.95px)": {
    "& thead": { display: "none" },
    "& tr": { display: "grid", gridTemplateColumns: "repeat(2, minmax(0, 1fr))", columnGap: 2, py: 1 },
    "& td": {
      display: "flex",
      flexDirection: "row",
      justifyContent: "space-between",
      gap: 1,
      border: 0,
      py: 0.4,
    },
    "& td:first-of-type": { gridColumn: "1 / -1", fontWeight: 650, justifyContent: "flex-start" },
    "& td[data-label]": { whiteSpace: "normal", textAlign: "right" },
    "& td[data-label]::before": { flexShrink: 0, content: "attr(data-label)", color: "text.secondary" },
  },
} as const;

type PeopleAt = (pick: string, stepId: string | null) => string;

export function StepsTable({
  steps,
  green,
  peopleAt,
}: {
  steps: readonly StepResult[];
  green: Green;
  peopleAt: PeopleAt;
}) {
  const number = (step: StepResult, pick: string, value: number) =>
    value === 0 ? "0" : <Link to={peopleAt(pick, step.stepId)}>{amount(value)}</Link>;
  return (
    <>
      <Figures
        name="Steps"
        rows={steps}
        keyOf={({ stepId }) => stepId}
        columns={[
          {
            title: "Step",
            of: (step) => (
              <>
                {step.name}
                {step.isRemoved && (
                  <Typography variant="caption" color="textSecondary" component="div">
                    taken out since
                  </Typography>
                )}
              </>
            ),
          },
          { title: "Made", of: (step) => number(step, "came", step.made) },
          { title: "Reached", of: (step) => number(step, "reached", step.reached) },
          { title: "Answered", of: (step) => number(step, "answered", step.brought.answered) },
          { title: "Want to talk", of: (step) => number(step, "positive", step.brought.positive) },
          {
            title: "likely between",
            of: (step) =>
              step.reached === 0 ? "–" : likely(shareOf(Math.round(step.brought[green]), step.reached)),
          },
          { title: "Calls booked", of: (step) => number(step, "booked", step.brought.booked) },
          {
            title: "Days to answer",
            of: ({ daysToAnswer }) =>
              daysToAnswer === null
                ? "–"
                : daysToAnswer.toLocaleString("en-GB", { maximumFractionDigits: 1 }),
          },
          { title: "Left", of: (step) => number(step, "gone", step.gone) },
        ]}
      />
      <Note>
        “Likely between”: in 19 of 20 cases the true share of {GREEN_WORDS[green].share} lies there. Opens are
        left out: some mail programs load every picture, others none.
      </Note>
    </>
  );
}

export function WordingsTable({ worded, green }: { worded: readonly WordedStep[]; green: Green }) {
  if (worded.length === 0)
    return (
      <Note>No email of this sequence has two wordings. Write a second one to learn which does better.</Note>
    );
  return worded.map((step) => {
    const compared = compareRates(step.wordings);
    const verdict = verdictOf(step.wordings);
    const rows = step.wordings.map((wording, nth) => ({
      ...wording,
      ...compared[nth],
      nth,
      belief: beliefOf(wording),
    }));
    const most = Math.max(...rows.map(({ belief }) => belief.high));
    return (
      <Box component="section" key={step.stepId} aria-label={step.name} sx={{ mb: 3 }}>
        <Typography variant="h2" sx={{ mb: 0.75 }}>
          {step.name}:{" "}
          {verdict.state === "better"
            ? `${letter(verdict.best)} does better`
            : verdict.state === "alike"
              ? "they bring the same"
              : "not settled yet"}
        </Typography>
        <Figures
          name={`Wordings of ${step.name}`}
          rows={rows}
          keyOf={({ id }) => id}
          columns={[
            { title: "Wording", of: ({ nth }) => letter(nth) },
            { title: "Reached", of: ({ whole }) => whole.toLocaleString("en-GB") },
            { title: GREEN_WORDS[green].column, of: ({ part }) => part },
            {
              title: "likely between",
              of: ({ belief, whole }) => (
                <Interval
                  low={belief.low}
                  high={belief.high}
                  most={most}
                  words={likely({ ...belief, part: 0, whole })}
                />
              ),
            },
            {
              title: "Best in … of 100",
              of: ({ isBest }) => Math.round(100 * (isBest ?? 0)),
            },
            {
              title: "Lost by deciding for it",
              of: ({ loss }) => `${(1000 * (loss ?? 0)).toFixed(1)} in 1,000`,
            },
          ]}
        />
      </Box>
    );
  });
}

const letter = (nth: number) => String.fromCharCode(65 + nth);

export function HoursPart({
  hours,
  stretches,
  green,
  file,
}: {
  hours: readonly Hour[];
  stretches: readonly Stretch[];
  green: Green;
  /** Where the times are as a file. */
  file: string;
}) {
  const real = stretches.find(({ differs }) => differs);
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {real
          ? `${timeName(real)} differs from the rest: ${percent(real.own.part, real.own.whole)} against ${percent(real.rest.part, real.rest.whole)}.`
          : "No hour differs from the others by more than chance. Send when it suits them."}
      </Typography>
      <Suspense fallback={<Box sx={{ minHeight: 260 }} />}>
        <Heat hours={hours} column={GREEN_WORDS[green].column} />
      </Suspense>
      <Figures
        name="Times"
        rows={stretches.toSorted(
          (a, b) => Number(a.by === "hour") - Number(b.by === "hour") || a.from - b.from,
        )}
        keyOf={({ by, from }) => `${by} ${from}`}
        file={file}
        columns={[
          { title: "Where they are", of: (stretch) => timeName(stretch) },
          { title: "Sent", of: ({ own }) => own.whole.toLocaleString("en-GB") },
          { title: GREEN_WORDS[green].column, of: ({ own }) => own.part },
          { title: "likely between", of: ({ own }) => likely(own) },
          { title: "The rest", of: ({ rest }) => percent(rest.part, rest.whole) },
          { title: "More than chance", of: ({ differs }) => (differs ? "yes" : "no") },
        ]}
      />
    </>
  );
}

export function GroupsTable({ groups, green }: { groups: readonly Group[]; green: Green }) {
  if (groups.length === 0)
    return <Note>Not enough people yet: a group of fewer than a dozen says nothing.</Note>;
  return (
    <>
      <Figures
        name="Who answers"
        rows={groups.slice(0, MOST_GROUPS)}
        keyOf={({ attribute, value }) => `${attribute} ${value}`}
        columns={[
          { title: "Who", of: (group) => `${ATTRIBUTE_WORDS[group.attribute]}: ${groupValue(group)}` },
          { title: "Reached", of: ({ own }) => own.whole.toLocaleString("en-GB") },
          {
            title: GREEN_WORDS[green].column,
            of: ({ own }) => `${own.part} · ${percent(own.part, own.whole)}`,
          },
          { title: "likely between", of: ({ own }) => likely(own) },
          { title: "The rest", of: ({ rest }) => percent(rest.part, rest.whole) },
          { title: "Differs", of: ({ differs }) => (differs ? "yes" : "could be chance") },
        ]}
      />
      <Note>
        {count(groups.length, "group")} looked at. Of those called different, at most{" "}
        {Math.round(100 * FALSE_SHARE)} of 100 are chance, however many are looked at.
      </Note>
    </>
  );
}

const MOST_GROUPS = 40;

export function HowLongTable({ howLong, green }: { howLong: HowLong; green: Green }) {
  const silentAfter = (nth: number) => howLong.silent.findLast(({ at }) => at <= nth);
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {howLong.enough
          ? `After touch ${howLong.enough.after} hardly anything comes: ${amount(howLong.enough.brought)} of ${howLong.enough.made.toLocaleString("en-GB")}.`
          : "Every touch still brings its share, as far as can be told."}
      </Typography>
      <Figures
        name="How long to go on"
        rows={howLong.touches}
        keyOf={({ nth }) => String(nth)}
        columns={[
          { title: "Touch", of: ({ nth }) => nth },
          { title: "Made", of: ({ made }) => made.toLocaleString("en-GB") },
          { title: "Brought", of: ({ brought }) => amount(brought) },
          { title: "likely between", of: ({ brought, made }) => likely(shareOf(brought, made)) },
          {
            title: `Without ${GREEN_WORDS[green].name} so far`,
            of: ({ nth }) => {
              const step = silentAfter(nth);
              return step ? `${Math.round(100 * step.silent)} % ± ${Math.round(196 * step.error)}` : "100 %";
            },
          },
        ]}
      />
      <Note>
        Whoever is still on the way counts for as long as they were watched, so that a new week hides nothing.
      </Note>
    </>
  );
}

const ofReached = (many: number, reached: number): string =>
  reached === 0 ? "–" : `${many.toLocaleString("en-GB")} · ${percent(many, reached)}`;

/** From the first week in which anybody was started. */
export function WeeksTable({ weeks }: { weeks: readonly WeekLine[] }) {
  const first = weeks.findIndex(({ started }) => started > 0);
  if (first < 0) return <Note>Nobody was started in the last {weeks.length} weeks.</Note>;
  return (
    <Figures
      name="Week by week"
      rows={weeks.slice(first)}
      keyOf={({ day }) => day}
      columns={[
        { title: "Started in the week of", of: ({ day }) => dayOfMonth(day) },
        { title: "Started", of: ({ started }) => started.toLocaleString("en-GB") },
        { title: "Reached", of: ({ reached }) => reached.toLocaleString("en-GB") },
        { title: "Answered", of: ({ answered, reached }) => ofReached(answered, reached) },
        { title: "Want to talk", of: ({ positive, reached }) => ofReached(positive, reached) },
        { title: "Calls booked", of: ({ booked }) => booked },
      ]}
    />
  );
}

const TRUST_WORDS: Record<LoadLine["trust"], string> = {
  person: "People, as far as that can be seen",
  proxy: "Programs that load pictures beforehand",
  scanner: "Programs that look for danger",
  forward: "Somebody it was passed on to",
  own: "Ourselves",
};

export function LoadsTable({ loads }: { loads: readonly LoadLine[] }) {
  if (loads.length === 0)
    return <Note>Nothing loaded a picture or followed a link since it is noted by what.</Note>;
  return (
    <>
      <Figures
        name="Opens"
        rows={loads}
        keyOf={({ trust }) => trust}
        columns={[
          { title: "By whom", of: ({ trust }) => TRUST_WORDS[trust] },
          { title: "Pictures", of: ({ opened }) => opened.toLocaleString("en-GB") },
          { title: "Links", of: ({ clicked }) => clicked.toLocaleString("en-GB") },
          {
            title: "Because",
            of: ({ because }) => (
              <Box
                component="span"
                sx={{ whiteSpace: "normal", display: "inline-block", maxWidth: 420, textAlign: "left" }}
              >
                {because.join("; ")}
              </Box>
            ),
          },
        ]}
      />
      <Note>
        Only what is taken for a person counts as opened or clicked, for forks, on Today and in figures; and
        that too is unreliable: some mail programs show no pictures, and a person may use one that loads them
        all.
      </Note>
    </>
  );
}

export function Note({ children }: { children: React.ReactNode }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ mt: 1, maxWidth: 640 }}>
      {children}
    </Typography>
  );
}
