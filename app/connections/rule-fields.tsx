/** The parts of a rule as they are written: what sets it off, and each act with its time. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { STAGE_NAMES, STAGES, type Stage } from "../../core/prospects/stages";
import type { Act, ActKind, RuleStep, When, WhenKind } from "../../core/rules/rule";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { Tick } from "../components/tick";
import { ACT_WORDS, type Names, WHEN_WORDS } from "./rule-words";

export interface RuleNames extends Names {
  sequences: readonly { id: number; name: string; steps: readonly { id: string; name: string }[] }[];
  webhooks: readonly { id: number; name: string }[];
  fields: readonly { name: string; words: string }[];
}

/** A place that is not filled in yet stands as 0, which no saved rule has. */
const BEGINNINGS: Record<WhenKind, When> = {
  form: { kind: "form", listId: 0 },
  listed: { kind: "listed", listId: 0 },
  stage: { kind: "stage", to: "won" },
  field: { kind: "field", field: "city", to: "" },
  owner: { kind: "owner" },
  label: { kind: "label", label: "interested" },
  answered: { kind: "answered" },
  opened: { kind: "opened", times: 3 },
  clicked: { kind: "clicked", contains: "" },
  booked: { kind: "booked" },
  missed: { kind: "missed" },
  silent: { kind: "silent", days: 7 },
  date: { kind: "date", field: "city", days: 14 },
  called: {
    kind: "called",
    list: "",
    mapping: { email: "email", firstName: "first_name", lastName: "last_name" },
  },
};

const ACTS: Record<ActKind, Act> = {
  start: { kind: "start", sequenceId: 0 },
  stop: { kind: "stop" },
  move: { kind: "move", sequenceId: 0, stepId: "" },
  set: { kind: "set", field: "city", value: "" },
  stage: { kind: "stage", to: "in_conversation" },
  owner: { kind: "owner", userIds: [] },
  list: { kind: "list", listId: 0, isOn: true },
  remind: { kind: "remind", what: "errand", text: "", inDays: 0 },
  notify: { kind: "notify", userId: null, text: "" },
  mail: { kind: "mail", userId: null, subject: "", body: "" },
  webhook: { kind: "webhook", webhookId: 0, text: "" },
};

export const newStep = (): RuleStep => ({ after: { kind: "now" }, act: ACTS.start });

const CHOOSE = ["0", "Choose …"] as const;
const options = (all: readonly { id: number; name: string }[]) => [
  CHOOSE,
  ...all.map(({ id, name }) => [String(id), name] as const),
];
const stages = STAGES.map((stage) => [stage, STAGE_NAMES[stage]] as const);
const whole = (text: string) => Math.trunc(Number(text)) || 0;

const line = {
  display: "flex",
  gap: 1.25,
  flexWrap: "wrap",
  alignItems: "flex-start",
  "& > *": { minWidth: 0 },
} as const;
const wide = { flex: "1 1 240px", maxWidth: 420 } as const;
const narrow = { flex: "0 0 auto", width: 130 } as const;

export function WhenFields({
  when,
  names,
  onChange,
}: {
  when: When;
  names: RuleNames;
  onChange: (when: When) => void;
}) {
  return (
    <Box sx={line}>
      <PlainSelect
        aria-label="When"
        value={when.kind}
        options={Object.entries(WHEN_WORDS)}
        onChange={(kind) => onChange(BEGINNINGS[kind as WhenKind])}
        sx={wide}
      />
      <WhenDetail when={when} names={names} onChange={onChange} />
    </Box>
  );
}

function WhenDetail({
  when,
  names,
  onChange,
}: {
  when: When;
  names: RuleNames;
  onChange: (when: When) => void;
}) {
  switch (when.kind) {
    case "form":
    case "listed":
      return (
        <PlainSelect
          aria-label="Which list"
          value={String(when.listId)}
          options={options(names.lists)}
          onChange={(id) => onChange({ ...when, listId: Number(id) })}
          sx={wide}
        />
      );
    case "stage":
      return (
        <PlainSelect
          aria-label="Which stage"
          value={when.to}
          options={stages}
          onChange={(to) => onChange({ ...when, to: to as Stage })}
          sx={wide}
        />
      );
    case "field":
      return (
        <>
          <FieldSelect names={names} value={when.field} onChange={(field) => onChange({ ...when, field })} />
          <PlainTextField
            label="To what; empty for anything"
            value={when.to}
            onChange={({ target }) => onChange({ ...when, to: target.value })}
            sx={wide}
          />
        </>
      );
    case "label":
      return (
        <PlainSelect
          aria-label="Which label"
          value={when.label}
          options={names.labels.map(({ code, name }) => [code, name] as const)}
          onChange={(label) => onChange({ ...when, label })}
          sx={wide}
        />
      );
    case "opened":
      return (
        <PlainSelect
          aria-label="How often"
          value={String(when.times)}
          options={[1, 2, 3, 4, 5].map(
            (times) => [String(times), times === 1 ? "once" : `${times} times`] as const,
          )}
          onChange={(times) => onChange({ ...when, times: Number(times) })}
          sx={narrow}
        />
      );
    case "clicked":
      return (
        <PlainTextField
          label="A part of its address; empty for any"
          value={when.contains}
          onChange={({ target }) => onChange({ ...when, contains: target.value })}
          sx={wide}
        />
      );
    case "silent":
      return (
        <PlainTextField
          label="Days"
          type="number"
          value={String(when.days)}
          onChange={({ target }) => onChange({ ...when, days: whole(target.value) })}
          sx={narrow}
        />
      );
    case "date":
      return (
        <>
          <FieldSelect names={names} value={when.field} onChange={(field) => onChange({ ...when, field })} />
          <PlainTextField
            label="Days before; −7: after"
            type="number"
            value={String(when.days)}
            onChange={({ target }) => onChange({ ...when, days: whole(target.value) })}
            sx={{ ...narrow, width: 180 }}
          />
        </>
      );
    case "called":
      return (
        <>
          <PlainTextField
            label="List for who is new"
            value={when.list}
            onChange={({ target }) => onChange({ ...when, list: target.value })}
            sx={wide}
          />
          <Box sx={{ flex: "1 1 100%" }}>
            <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
              Where each field stands in the JSON that it sends, as “contact.email”.
            </Typography>
            <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr 1fr" } }}>
              {["email", "firstName", "lastName", "company", "title", "phone"].map((field) => (
                <PlainTextField
                  key={field}
                  label={names.fields.find(({ name }) => name === field)?.words ?? field}
                  value={when.mapping[field] ?? ""}
                  onChange={({ target }) => {
                    const { [field]: _, ...others } = when.mapping;
                    onChange({
                      ...when,
                      mapping: target.value === "" ? others : { ...others, [field]: target.value },
                    });
                  }}
                />
              ))}
            </Box>
          </Box>
        </>
      );
    default:
      return null;
  }
}

const FieldSelect = ({
  names,
  value,
  onChange,
}: {
  names: RuleNames;
  value: string;
  onChange: (field: string) => void;
}) => (
  <PlainSelect
    aria-label="Which field"
    value={value}
    options={[
      ...(names.fields.some(({ name }) => name === value)
        ? []
        : [[value, value.replace(/^custom:/, "")] as const]),
      ...names.fields.map(({ name, words }) => [name, words] as const),
    ]}
    onChange={onChange}
    sx={wide}
  />
);

export function StepFields(props: {
  nth: number;
  step: RuleStep;
  names: RuleNames;
  onChange: (step: RuleStep) => void;
  /** Undefined for the only one. */
  onRemove: (() => void) | undefined;
}) {
  const { nth, step, names, onChange, onRemove } = props;
  const { after, act } = step;
  return (
    <Box
      role="group"
      aria-label={`Act ${nth + 1}`}
      sx={{ display: "grid", gap: 1.25, borderTop: "1px solid", borderColor: "divider", pt: 1.5 }}
    >
      <Box sx={line}>
        <PlainSelect
          aria-label={`Act ${nth + 1}: when`}
          value={after.kind}
          options={[
            ["now", nth === 0 ? "at once" : "then at once"],
            ["wait", "after a while"],
            ["at", "at a time of day"],
          ]}
          onChange={(kind) =>
            onChange({
              act,
              after:
                kind === "wait"
                  ? { kind, amount: 1, unit: "days" }
                  : kind === "at"
                    ? { kind, time: "09:00" }
                    : { kind: "now" },
            })
          }
          sx={{ width: 170 }}
        />
        {after.kind === "wait" && (
          <>
            <PlainTextField
              aria-label="How long"
              type="number"
              value={String(after.amount)}
              onChange={({ target }) => onChange({ act, after: { ...after, amount: whole(target.value) } })}
              sx={{ width: 80 }}
            />
            <PlainSelect
              aria-label="Unit"
              value={after.unit}
              options={[
                ["minutes", "minutes"],
                ["hours", "hours"],
                ["days", "days"],
              ]}
              onChange={(unit) => onChange({ act, after: { ...after, unit: unit as typeof after.unit } })}
              sx={{ width: 120 }}
            />
          </>
        )}
        {after.kind === "at" && (
          <PlainTextField
            aria-label="Time where they are"
            placeholder="09:00"
            value={after.time}
            onChange={({ target }) => onChange({ act, after: { ...after, time: target.value } })}
            sx={{ width: 90 }}
          />
        )}
        <PlainSelect
          aria-label={`Act ${nth + 1}: what`}
          value={act.kind}
          options={Object.entries(ACT_WORDS)}
          onChange={(kind) => onChange({ after, act: ACTS[kind as ActKind] })}
          sx={wide}
        />
        {onRemove && (
          <Button size="small" type="button" onClick={onRemove} aria-label={`Leave out act ${nth + 1}`}>
            Leave out
          </Button>
        )}
      </Box>
      <ActDetail act={act} names={names} onChange={(changed) => onChange({ after, act: changed })} />
    </Box>
  );
}

function ActDetail({ act, names, onChange }: { act: Act; names: RuleNames; onChange: (act: Act) => void }) {
  const users = [
    ["", "whoever they belong to"],
    ...names.users.map(({ id, name }) => [String(id), name] as const),
  ] as const;
  switch (act.kind) {
    case "start":
    case "move": {
      const steps = names.sequences.find(({ id }) => id === act.sequenceId)?.steps ?? [];
      return (
        <Box sx={line}>
          <PlainSelect
            aria-label="Which sequence"
            value={String(act.sequenceId)}
            options={options(names.sequences)}
            onChange={(id) => onChange({ ...act, sequenceId: Number(id) })}
            sx={wide}
          />
          {act.kind === "move" && (
            <PlainSelect
              aria-label="Which step"
              value={act.stepId}
              options={[["", "Choose …"], ...steps.map(({ id, name }) => [id, name] as const)]}
              onChange={(stepId) => onChange({ ...act, stepId })}
              sx={wide}
            />
          )}
        </Box>
      );
    }
    case "set":
      return (
        <Box sx={line}>
          <FieldSelect names={names} value={act.field} onChange={(field) => onChange({ ...act, field })} />
          <PlainTextField
            label="To"
            value={act.value}
            onChange={({ target }) => onChange({ ...act, value: target.value })}
            sx={wide}
          />
        </Box>
      );
    case "stage":
      return (
        <PlainSelect
          aria-label="Which stage"
          value={act.to}
          options={stages}
          onChange={(to) => onChange({ ...act, to: to as Stage })}
          sx={wide}
        />
      );
    case "owner":
      return (
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2 }}>
          {names.users.map(({ id, name }) => (
            <Tick
              key={id}
              label={name}
              checked={act.userIds.includes(id)}
              onChange={(checked) =>
                onChange({
                  ...act,
                  userIds: checked ? [...act.userIds, id] : act.userIds.filter((each) => each !== id),
                })
              }
            />
          ))}
        </Box>
      );
    case "list":
      return (
        <Box sx={line}>
          <PlainSelect
            aria-label="On or off"
            value={act.isOn ? "on" : "off"}
            options={[
              ["on", "put on"],
              ["off", "take off"],
            ]}
            onChange={(how) => onChange({ ...act, isOn: how === "on" })}
            sx={narrow}
          />
          <PlainSelect
            aria-label="Which list"
            value={String(act.listId)}
            options={options(names.lists)}
            onChange={(id) => onChange({ ...act, listId: Number(id) })}
            sx={wide}
          />
        </Box>
      );
    case "remind":
      return (
        <Box sx={line}>
          <PlainSelect
            aria-label="What kind"
            value={act.what}
            options={[
              ["errand", "an errand"],
              ["call", "a call"],
            ]}
            onChange={(what) => onChange({ ...act, what: what as typeof act.what })}
            sx={narrow}
          />
          <PlainTextField
            label="What it says"
            value={act.text}
            onChange={({ target }) => onChange({ ...act, text: target.value })}
            sx={wide}
          />
          <PlainTextField
            label="In days; 0: today"
            type="number"
            value={String(act.inDays)}
            onChange={({ target }) => onChange({ ...act, inDays: whole(target.value) })}
            sx={narrow}
          />
        </Box>
      );
    case "notify":
    case "mail":
      return (
        <Box sx={line}>
          <PlainSelect
            aria-label="Whom"
            value={act.userId === null ? "" : String(act.userId)}
            options={users}
            onChange={(id) => onChange({ ...act, userId: id === "" ? null : Number(id) })}
            sx={wide}
          />
          {act.kind === "notify" ? (
            <PlainTextField
              label="What it says"
              value={act.text}
              onChange={({ target }) => onChange({ ...act, text: target.value })}
              sx={wide}
            />
          ) : (
            <>
              <PlainTextField
                label="Subject"
                value={act.subject}
                onChange={({ target }) => onChange({ ...act, subject: target.value })}
                sx={wide}
              />
              <PlainTextField
                label="Text; merge fields as in an email"
                multiline
                minRows={3}
                value={act.body}
                onChange={({ target }) => onChange({ ...act, body: target.value })}
                sx={{ flex: "1 1 100%" }}
              />
            </>
          )}
        </Box>
      );
    case "webhook":
      return (
        <Box sx={line}>
          <PlainSelect
            aria-label="Which webhook"
            value={String(act.webhookId)}
            options={options(names.webhooks)}
            onChange={(id) => onChange({ ...act, webhookId: Number(id) })}
            sx={wide}
          />
          <PlainTextField
            label="What a channel reads"
            value={act.text}
            onChange={({ target }) => onChange({ ...act, text: target.value })}
            sx={wide}
          />
        </Box>
      );
    case "stop":
      return null;
  }
}
