/** One act of a rule and its time, as they are written. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Act, ActKind, RuleStep } from "../../core/rules/rule";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { Tick } from "../components/tick";
import {
  DealStageSelect,
  FieldSelect,
  ListSelect,
  line,
  narrow,
  options,
  type RuleNames,
  StageSelect,
  whole,
  wide,
} from "./rule-choices";
import { ACT_WORDS } from "./rule-words";

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
  deal: { kind: "deal", name: "{{company}}", stage: "" },
  webhook: { kind: "webhook", webhookId: 0, text: "" },
};

export const newStep = (): RuleStep => ({ after: { kind: "now" }, act: ACTS.start });

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
      return <StageSelect value={act.to} onChange={(to) => onChange({ ...act, to })} />;
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
          <ListSelect names={names} value={act.listId} onChange={(listId) => onChange({ ...act, listId })} />
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
    case "deal":
      return (
        <Box sx={line}>
          <DealStageSelect
            names={names}
            value={act.stage}
            none={names.dealStages.length === 0 ? "no CRM is connected" : "Choose …"}
            onChange={(stage) => onChange({ ...act, stage })}
          />
          <PlainTextField
            label="What a new one is called"
            value={act.name}
            onChange={({ target }) => onChange({ ...act, name: target.value })}
            sx={wide}
          />
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
