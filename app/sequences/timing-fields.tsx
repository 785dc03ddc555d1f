/** When a step comes, and under which condition. */

import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { TEXT_OPS } from "../../core/prospects/filter-fields";
import { LABELS } from "../../core/replies/labels";
import type { Condition } from "../../core/sequence/condition";
import { MAX_WAIT_DAYS, MAX_WAIT_HOURS } from "../../core/sequence/limits";
import type { EmailStep, Path } from "../../core/sequence/path";
import { askableAt } from "../../core/sequence/path-problems";
import type { Wait } from "../../core/sequence/wait";
import { Choice } from "../components/choice";
import { DayField, TimeField } from "../components/moment-fields";
import { NumberField } from "../components/number-field";
import { Tick } from "../components/tick";
import { SHORT_WEEKDAYS } from "../components/words";

const UNITS = {
  working: "working days",
  days: "days",
  hours: "hours",
  weekday: "until a weekday",
  date: "until a date",
} as const;
type Unit = keyof typeof UNITS;

const unitOf = (wait: Wait): Unit =>
  "days" in wait
    ? wait.working
      ? "working"
      : "days"
    : "hours" in wait
      ? "hours"
      : "weekday" in wait
        ? "weekday"
        : "date";

function waitOf(unit: Unit, before: Wait): Wait {
  const number = "days" in before ? before.days : "hours" in before ? Math.round(before.hours / 24) : 3;
  switch (unit) {
    case "working":
    case "days":
      return { days: number, working: unit === "working" };
    case "hours":
      return { hours: Math.min(MAX_WAIT_HOURS, number * 24) };
    case "weekday":
      return { weekday: 1, time: "10:00" };
    case "date":
      return { date: new Date(Date.now() + 14 * 864e5).toISOString().slice(0, 10), time: "10:00" };
  }
}

export function WaitField(props: {
  label: string;
  wait: Wait;
  onChange: (wait: Wait) => void;
  problem?: string;
}) {
  const { label, wait, onChange, problem = "" } = props;
  const unit = unitOf(wait);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "flex-start" }}>
      {"days" in wait || "hours" in wait ? (
        <NumberField
          label={label}
          value={"days" in wait ? wait.days : wait.hours}
          most={"days" in wait ? MAX_WAIT_DAYS : MAX_WAIT_HOURS}
          onChange={(number) => onChange("days" in wait ? { ...wait, days: number } : { hours: number })}
          error={problem !== ""}
          helperText={problem}
          slotProps={{ htmlInput: { min: 0 } }}
          sx={{ width: 150, flexShrink: 0 }}
        />
      ) : (
        <>
          {"weekday" in wait ? (
            <Choice
              label={label}
              value={wait.weekday}
              onChange={(chosen) => onChange({ ...wait, weekday: Number(chosen) })}
              sx={{ width: 110 }}
              options={SHORT_WEEKDAYS.map((name, index) => [index + 1, name] as const)}
            />
          ) : (
            <DayField
              label={label}
              value={wait.date}
              onChange={(date) => date && onChange({ ...wait, date })}
              sx={{ width: 165 }}
            />
          )}
          <TimeField
            label="at"
            value={wait.time}
            onChange={(time) => time && onChange({ ...wait, time })}
            sx={{ width: 120 }}
          />
        </>
      )}
      <Choice
        aria-label="Unit of the wait"
        value={unit}
        onChange={(chosen) => onChange(waitOf(chosen as Unit, wait))}
        slotProps={{ select: { SelectDisplayProps: { "aria-label": "Unit of the wait" } } }}
        sx={{ width: 150, flexShrink: 0 }}
        options={(Object.keys(UNITS) as Unit[]).map((each) => [each, UNITS[each]] as const)}
      />
    </Box>
  );
}

const SHARE_WORDS = {
  25: "at least a quarter",
  50: "at least half",
  75: "at least three quarters",
  100: "to the end",
};

const ABOUTS: Record<Condition["about"], [yes: string, no: string]> = {
  profile: ["have a social profile", "have no social profile"],
  address: ["have an address", "have no address"],
  accepted: ["accepted the invitation", "did not accept the invitation"],
  opened: ["opened an email", "did not open an email"],
  clicked: ["clicked in an email", "did not click in an email"],
  visited: ["looked at their page", "did not look at their page"],
  watched: ["watched the film", "did not watch the film"],
  field: ["have a field that", "have a field that is not so:"],
  label: ["gave an answer that is", "gave an answer that is not"],
};
const OP_WORDS: Record<(typeof TEXT_OPS)[number], string> = {
  is: "is",
  is_not: "is not",
  contains: "contains",
  contains_not: "does not contain",
  empty: "is empty",
  filled: "is filled",
};

function conditionAbout(about: Condition["about"], not: boolean, emails: EmailStep[]): Condition {
  const turned = not ? ({ not: true } as const) : {};
  switch (about) {
    case "opened":
    case "clicked":
      return { ...turned, about, stepId: emails.at(-1)?.id ?? "" };
    case "field":
      return { ...turned, about, field: "title", op: "contains", value: "" };
    case "label":
      return { ...turned, about, is: "interested" };
    case "watched":
      return { ...turned, about, share: 50 };
    default:
      return { ...turned, about };
  }
}

export function ConditionField(props: {
  label: string;
  condition: Condition;
  /** What can be asked at its place. */
  askable: ReturnType<typeof askableAt>;
  fields: readonly string[];
  onChange: (condition: Condition) => void;
  problem?: string;
}) {
  const { label, condition, fields, onChange, problem = "" } = props;
  const { abouts, emails } = props.askable;
  // What was asked before a step was moved away stays in sight, with what is wrong with it.
  const choices = [...new Set([...abouts, condition.about])].flatMap((about) =>
    [false, true].map((not) => ({ about, not })),
  );
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "flex-start" }}>
      <Choice
        label={label}
        value={`${condition.about} ${condition.not === true}`}
        onChange={(chosen) => {
          const [about, not] = chosen.split(" ");
          onChange(conditionAbout(about as Condition["about"], not === "true", emails));
        }}
        error={problem !== ""}
        helperText={problem}
        sx={{ width: 260 }}
        options={choices.map(({ about, not }) => [`${about} ${not}`, ABOUTS[about][not ? 1 : 0]] as const)}
      />
      {"stepId" in condition && (
        <Choice
          label="Which email"
          value={emails.some(({ id }) => id === condition.stepId) ? condition.stepId : ""}
          onChange={(chosen) => onChange({ ...condition, stepId: chosen })}
          sx={{ width: 190 }}
          options={emails.map(({ id, name }) => [id, name] as const)}
        />
      )}
      {condition.about === "watched" && (
        <Choice
          label="How much"
          value={condition.share}
          onChange={(chosen) => onChange({ ...condition, share: Number(chosen) as typeof condition.share })}
          sx={{ width: 190 }}
          options={Object.entries(SHARE_WORDS).map(([share, words]) => [Number(share), words] as const)}
        />
      )}
      {condition.about === "label" && (
        <Choice
          label="Answer"
          value={condition.is}
          onChange={(chosen) => onChange({ ...condition, is: chosen as typeof condition.is })}
          sx={{ width: 170 }}
          options={LABELS.map((each) => [each, each.replaceAll("_", " ")] as const)}
        />
      )}
      {condition.about === "field" && (
        <>
          <Choice
            label="Field"
            value={condition.field}
            onChange={(chosen) => onChange({ ...condition, field: chosen })}
            sx={{ width: 150 }}
            options={[...new Set([...fields, condition.field])].map(
              (each) => [each, each.replaceAll("_", " ")] as const,
            )}
          />
          <Choice
            label="How"
            value={condition.op}
            onChange={(chosen) => onChange({ ...condition, op: chosen as typeof condition.op })}
            sx={{ width: 150 }}
            options={TEXT_OPS.map((op) => [op, OP_WORDS[op]] as const)}
          />
          {condition.op !== "empty" && condition.op !== "filled" && (
            <TextField
              label="Value"
              value={condition.value}
              onChange={({ target }) => onChange({ ...condition, value: target.value })}
              sx={{ width: 150 }}
            />
          )}
        </>
      )}
    </Box>
  );
}

/** A step for some only. */
export function OnlyIfField(props: {
  condition: Condition | undefined;
  path: Path;
  at: string;
  fields: readonly string[];
  onChange: (condition: Condition | undefined) => void;
  problem?: string;
}) {
  const { condition, path, at, fields, onChange } = props;
  const askable = askableAt(path, at);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <Tick
        label="Only if"
        checked={condition !== undefined}
        onChange={(isChecked) =>
          onChange(
            isChecked
              ? conditionAbout(askable.emails.length > 0 ? "opened" : "field", true, askable.emails)
              : undefined,
          )
        }
      />
      {condition && (
        <ConditionField
          label="they"
          condition={condition}
          askable={askable}
          fields={fields}
          onChange={onChange}
          {...(props.problem ? { problem: props.problem } : {})}
        />
      )}
    </Box>
  );
}
