/** When a step comes, and under which condition. */

import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { TEXT_OPS } from "../../core/prospects/filter-fields";
import { LABELS } from "../../core/replies/labels";
import type { Condition } from "../../core/sequence/condition";
import { MAX_WAIT_DAYS, MAX_WAIT_HOURS } from "../../core/sequence/limits";
import { type EmailStep, everyStep, isEmail, type Path } from "../../core/sequence/path";
import type { Wait } from "../../core/sequence/wait";
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

const bounded = (text: string, most: number) => Math.max(0, Math.min(most, Math.round(Number(text)) || 0));

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
        <TextField
          label={label}
          type="number"
          value={"days" in wait ? wait.days : wait.hours}
          onChange={({ target }) =>
            onChange(
              "days" in wait
                ? { ...wait, days: bounded(target.value, MAX_WAIT_DAYS) }
                : { hours: bounded(target.value, MAX_WAIT_HOURS) },
            )
          }
          error={problem !== ""}
          helperText={problem}
          slotProps={{ htmlInput: { min: 0 } }}
          sx={{ width: 150, flexShrink: 0 }}
        />
      ) : (
        <>
          {"weekday" in wait ? (
            <TextField
              select
              label={label}
              value={wait.weekday}
              onChange={({ target }) => onChange({ ...wait, weekday: Number(target.value) })}
              sx={{ width: 110 }}
            >
              {SHORT_WEEKDAYS.map((name, index) => (
                <MenuItem key={name} value={index + 1}>
                  {name}
                </MenuItem>
              ))}
            </TextField>
          ) : (
            <TextField
              type="date"
              label={label}
              value={wait.date}
              onChange={({ target }) => target.value && onChange({ ...wait, date: target.value })}
              sx={{ width: 160 }}
            />
          )}
          <TextField
            type="time"
            label="at"
            value={wait.time}
            onChange={({ target }) => target.value && onChange({ ...wait, time: target.value })}
            sx={{ width: 115 }}
          />
        </>
      )}
      <TextField
        select
        aria-label="Unit of the wait"
        value={unit}
        onChange={({ target }) => onChange(waitOf(target.value as Unit, wait))}
        slotProps={{ select: { SelectDisplayProps: { "aria-label": "Unit of the wait" } } }}
        sx={{ width: 150, flexShrink: 0 }}
      >
        {(Object.keys(UNITS) as Unit[]).map((each) => (
          <MenuItem key={each} value={each}>
            {UNITS[each]}
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );
}

const ABOUTS: Record<Condition["about"], [yes: string, no: string]> = {
  profile: ["have a social profile", "have no social profile"],
  address: ["have an address", "have no address"],
  accepted: ["accepted the invitation", "did not accept the invitation"],
  opened: ["opened an email", "did not open an email"],
  clicked: ["clicked in an email", "did not click in an email"],
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
    default:
      return { ...turned, about };
  }
}

export function ConditionField(props: {
  label: string;
  condition: Condition;
  path: Path;
  fields: readonly string[];
  /** Conditions that make sense here. */
  abouts?: readonly Condition["about"][];
  onChange: (condition: Condition) => void;
  problem?: string;
}) {
  const { label, condition, path, fields, onChange, problem = "" } = props;
  const emails = everyStep(path).filter(isEmail);
  const choices = (props.abouts ?? (Object.keys(ABOUTS) as Condition["about"][])).flatMap((about) =>
    [false, true].map((not) => ({ about, not })),
  );
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "flex-start" }}>
      <TextField
        select
        label={label}
        value={`${condition.about} ${condition.not === true}`}
        onChange={({ target }) => {
          const [about, not] = target.value.split(" ");
          onChange(conditionAbout(about as Condition["about"], not === "true", emails));
        }}
        error={problem !== ""}
        helperText={problem}
        sx={{ width: 260 }}
      >
        {choices.map(({ about, not }) => (
          <MenuItem key={`${about} ${not}`} value={`${about} ${not}`}>
            {ABOUTS[about][not ? 1 : 0]}
          </MenuItem>
        ))}
      </TextField>
      {"stepId" in condition && (
        <TextField
          select
          label="Which email"
          value={emails.some(({ id }) => id === condition.stepId) ? condition.stepId : ""}
          onChange={({ target }) => onChange({ ...condition, stepId: target.value })}
          sx={{ width: 190 }}
        >
          {emails.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {condition.about === "label" && (
        <TextField
          select
          label="Answer"
          value={condition.is}
          onChange={({ target }) => onChange({ ...condition, is: target.value as typeof condition.is })}
          sx={{ width: 170 }}
        >
          {LABELS.map((each) => (
            <MenuItem key={each} value={each}>
              {each.replaceAll("_", " ")}
            </MenuItem>
          ))}
        </TextField>
      )}
      {condition.about === "field" && (
        <>
          <TextField
            select
            label="Field"
            value={condition.field}
            onChange={({ target }) => onChange({ ...condition, field: target.value })}
            sx={{ width: 150 }}
          >
            {[...new Set([...fields, condition.field])].map((each) => (
              <MenuItem key={each} value={each}>
                {each.replaceAll("_", " ")}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="How"
            value={condition.op}
            onChange={({ target }) => onChange({ ...condition, op: target.value as typeof condition.op })}
            sx={{ width: 150 }}
          >
            {TEXT_OPS.map((op) => (
              <MenuItem key={op} value={op}>
                {OP_WORDS[op]}
              </MenuItem>
            ))}
          </TextField>
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
  fields: readonly string[];
  onChange: (condition: Condition | undefined) => void;
  problem?: string;
}) {
  const { condition, path, fields, onChange } = props;
  const emails = everyStep(path).filter(isEmail);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={condition !== undefined}
            onChange={({ target }) =>
              onChange(
                target.checked
                  ? conditionAbout(emails.length > 0 ? "opened" : "field", true, emails)
                  : undefined,
              )
            }
          />
        }
        label="Only if"
      />
      {condition && (
        <ConditionField
          label="they"
          condition={condition}
          path={path}
          fields={fields}
          abouts={["opened", "clicked", "field", "profile", "address", "accepted"]}
          onChange={onChange}
          {...(props.problem ? { problem: props.problem } : {})}
        />
      )}
    </Box>
  );
}
