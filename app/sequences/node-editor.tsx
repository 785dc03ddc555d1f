/** What is selected in the timeline, to be written: a step, a fork or an end. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { isStanding } from "../../core/sequence/condition";
import { REP_KINDS } from "../../core/sequence/limits";
import {
  type EmailStep,
  type Fork,
  isEmail,
  isTouch,
  type RepStep,
  spotsOf,
  type TouchStep,
} from "../../core/sequence/path";
import { askableAt, type PathProblem } from "../../core/sequence/path-problems";
import type { WordingsSoFar } from "../../server/sequences/share-wordings";
import { Choice } from "../components/choice";
import { OptionalNumberField } from "../components/number-field";
import { Tick } from "../components/tick";
import { EmailEditor } from "./email/email-editor";
import { KIND_WORDS, wayWords } from "./step-words";
import { ConditionField, OnlyIfField, WaitField } from "./timing-fields";
import type { Composer } from "./use-composer";

export interface NodeEditorProps {
  composer: Composer;
  variantId: string;
  onVariant: (id: string) => void;
  fields: readonly string[];
  samples: Readonly<Record<string, string>>;
  /** What attachments are called, by their numbers. */
  fileNames: Readonly<Record<number, string>>;
  /** What each wording brought so far, by "step wording". */
  wordings: WordingsSoFar;
  problems: readonly PathProblem[];
}

export function NodeEditor(props: NodeEditorProps) {
  const { composer } = props;
  const { node } = composer;
  if (!node) return <Typography color="textSecondary">Add a step to begin.</Typography>;
  const own = { ...props, problems: props.problems.filter(({ nodeId }) => nodeId === node.id) };
  if (node.kind === "end")
    return <Typography color="textSecondary">Whoever comes here is through. Delete removes it.</Typography>;
  if (node.kind === "fork") return <ForkEditor key={node.id} {...own} fork={node} />;
  return <StepEditor key={node.id} {...own} step={node} />;
}

const saidOf = (problems: readonly PathProblem[], field: PathProblem["field"]): string =>
  problems
    .filter((each) => each.field === field)
    .map(({ message }) => message)
    .join(" ");

function StepEditor(props: NodeEditorProps & { step: TouchStep }) {
  const { composer, step, problems, fields } = props;
  const { path } = composer.form;
  const spot = spotsOf(path).get(step.id);
  const isFirst = path[0]?.id === step.id;
  const [more, setMore] = useState(step.onlyIf !== undefined || step.note !== "" || step.bestHour === true);
  const set = (changes: Partial<TouchStep>) => composer.setNode({ ...step, ...changes } as TouchStep);
  const email = isEmail(step) ? step : null;
  return (
    <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: "minmax(0, 1fr)" }}>
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "flex-start" }}>
        <TextField
          label="Name of the step"
          value={step.name}
          onChange={({ target }) => set({ name: target.value })}
          error={step.name.trim() === ""}
          helperText={step.name.trim() === "" ? "Give the step a short name." : undefined}
          sx={{ width: 190 }}
        />
        <Choice
          label="Kind"
          value={step.kind}
          onChange={(chosen) => composer.setNode({ ...step, kind: chosen } as TouchStep, "kind")}
          sx={{ width: 175 }}
          options={(email ? (["email", "approved_email"] as const) : REP_KINDS).map(
            (kind) => [kind, kind === "email" ? "Email, by itself" : KIND_WORDS[kind]] as const,
          )}
        />
        <WaitField
          label={isFirst ? "After the start" : "After the step before"}
          wait={step.wait}
          onChange={(wait) => composer.setNode({ ...step, wait }, "wait")}
          problem={saidOf(problems, "wait")}
        />
        <Button
          size="small"
          variant="text"
          onClick={() => setMore(!more)}
          aria-expanded={more}
          sx={{ height: 40 }}
        >
          {more ? "Less" : "More"}
        </Button>
      </Box>
      {more && (
        <Box sx={{ display: "grid", gap: 1, bgcolor: "background.default", borderRadius: 1, p: 1.5 }}>
          <OnlyIfField
            condition={step.onlyIf}
            path={path}
            at={step.id}
            fields={fields}
            problem={saidOf(problems, "onlyIf")}
            onChange={(onlyIf) => {
              const { onlyIf: _, ...rest } = step;
              composer.setNode((onlyIf ? { ...rest, onlyIf } : rest) as TouchStep, "onlyIf");
            }}
          />
          <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "center" }}>
            <Tick
              label="At their best hour, if it is known"
              checked={step.bestHour === true}
              onChange={(isChecked) => {
                const { bestHour: _, ...rest } = step;
                composer.setNode((isChecked ? { ...rest, bestHour: true } : rest) as TouchStep, "bestHour");
              }}
            />
            {email && (
              <>
                <Tick
                  label="Plain text only"
                  checked={email.format === "plain"}
                  onChange={(isChecked) =>
                    set({ format: isChecked ? "plain" : "formatted" } as Partial<EmailStep>)
                  }
                />
                {!isFirst && (
                  <Tick
                    label="Quote the thread below"
                    checked={email.quotes}
                    onChange={(isChecked) => set({ quotes: isChecked } as Partial<EmailStep>)}
                  />
                )}
              </>
            )}
          </Box>
          <TextField
            label="Note for the team"
            value={step.note}
            onChange={({ target }) => set({ note: target.value })}
            helperText="No prospect sees it."
          />
        </Box>
      )}
      {email ? (
        <EmailEditor
          step={email}
          variantId={props.variantId}
          onVariant={props.onVariant}
          isFirst={(spot?.emailsBefore.length ?? 0) === 0}
          fields={fields}
          samples={props.samples}
          fileNames={props.fileNames}
          wordings={props.wordings}
          problems={problems}
          onChange={composer.setEmail}
        />
      ) : (
        <TaskEditor
          step={step as RepStep}
          problems={problems}
          onChange={(changed) => composer.setNode(changed)}
        />
      )}
    </Box>
  );
}

const TEXT_LABELS: Record<RepStep["kind"], [label: string, hint: string]> = {
  profile_view: ["What to look for", "May stay empty. Their profile is one press away on Today."],
  invitation: [
    "Note of the invitation",
    "May stay empty: invitations without a note are accepted about as often.",
  ],
  social_message: ["Message", "Ready to copy on Today, with the fields filled in."],
  call: ["Talking points", "Beside the number on Today."],
  errand: ["What is to be done", "As it will stand on Today."],
};

/** What only a person can do. */
function TaskEditor(props: {
  step: RepStep;
  problems: readonly PathProblem[];
  onChange: (step: RepStep) => void;
}) {
  const { step, problems, onChange } = props;
  const [label, hint] = TEXT_LABELS[step.kind];
  const problem = saidOf(problems, "text");
  return (
    <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: "minmax(0, 1fr)" }}>
      <TextField
        name="text"
        label={label}
        multiline
        minRows={4}
        value={step.text}
        onChange={({ target }) => onChange({ ...step, text: target.value })}
        error={problem !== ""}
        helperText={problem || hint}
        sx={{ "& textarea": { typography: "letter" } }}
      />
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <Choice
          label="Until you did it, the sequence"
          value={step.journey}
          onChange={(chosen) => onChange({ ...step, journey: chosen as RepStep["journey"] })}
          sx={{ width: 230 }}
          options={[
            ["waits", "waits for you"],
            ["goes_on", "goes on without waiting"],
          ]}
        />
        <OptionalNumberField
          label="Left undone, skip it after"
          value={step.skipAfter}
          placeholder="never"
          most={180}
          onChange={(skipAfter) => onChange({ ...step, skipAfter })}
          sx={{ width: 190 }}
        />
        <Typography variant="body2" color="textSecondary">
          working days
        </Typography>
        {step.kind === "social_message" && (
          <Tick
            label="As an invitation's note, if they are no contact yet"
            checked={step.asNote}
            onChange={(isChecked) => onChange({ ...step, asNote: isChecked })}
          />
        )}
      </Box>
    </Box>
  );
}

function ForkEditor(props: NodeEditorProps & { fork: Fork }) {
  const { composer, fork, problems, fields } = props;
  const { path } = composer.form;
  const isEvent = !isStanding(fork.ask);
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "flex-start" }}>
        <TextField
          label="Name of the fork"
          value={fork.name}
          placeholder="optional"
          onChange={({ target }) => composer.setNode({ ...fork, name: target.value })}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ width: 190 }}
        />
        <ConditionField
          label="Yes, if they"
          condition={fork.ask}
          askable={askableAt(path, fork.id)}
          fields={fields}
          problem={saidOf(problems, "ask")}
          onChange={(ask) => composer.setNode({ ...fork, ask }, "ask")}
        />
      </Box>
      {isEvent && (
        <WaitField
          label="Waits for it"
          wait={fork.patience}
          onChange={(patience) => composer.setNode({ ...fork, patience }, "patience")}
          problem={saidOf(problems, "patience")}
        />
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 2 }}>
        {(["yes", "no"] as const).map((branch) => (
          <Box key={branch} sx={{ border: "1px solid", borderColor: "divider", borderRadius: 1, p: 1.5 }}>
            <Typography sx={{ fontWeight: 650, color: branch === "yes" ? "kelp.text" : "clay.main" }}>
              {wayWords(fork, branch, path)}
            </Typography>
            <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
              {fork[branch].length === 0
                ? "Goes straight on with what follows the fork."
                : fork[branch].map((node) => (isTouch(node) ? node.name : KIND_WORDS[node.kind])).join(" → ")}
            </Typography>
            <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
              {(["email", "social_message", "call"] as const).map((kind) => (
                <Button
                  key={kind}
                  size="small"
                  onClick={() =>
                    composer.add(kind, { within: { forkId: fork.id, branch }, index: fork[branch].length })
                  }
                >
                  + {KIND_WORDS[kind]}
                </Button>
              ))}
              <Button size="small" variant="text" onClick={() => composer.remove(fork.id, branch)}>
                Keep only this way
              </Button>
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
