/** The brief for the writing assistant: what it has to know to draft. */
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useController } from "react-hook-form";
import { type Brief, briefSchema } from "../../core/writing/brief";
import { LANGUAGES, TONES } from "../../core/writing/brief-choices";
import { SchemaDialog } from "../components/dialogs";
import type { FieldErrors } from "../components/field";
import { ChoiceInput, NumberInput, TextInput } from "../components/schema-fields";
import { type FormOf, useSchemaForm } from "../components/schema-form";
import { type Help, useAssistant } from "./ask-assistant";

const EMPTY: Brief = {
  who: "",
  whom: "",
  goal: "",
  value: "",
  occasion: "",
  tone: "plain",
  language: "en",
  channels: ["email", "social", "call"],
  steps: 5,
};
const CHANNELS = { email: "Emails", social: "Social touches", call: "Calls" } as const;
const NONE: FieldErrors = {};
const KEPT = "saudade-brief";

/** What was told last time is told again, since who we are does not change. */
function lastBrief(): Brief {
  try {
    return { ...EMPTY, ...(JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Partial<Brief>) };
  } catch {
    return EMPTY;
  }
}

/** Who, whom, goal, value, occasion: each with words that show what is meant. */
const TOLD = [
  ["who", "Who you are, and what you do", "We make small loggers that record humidity in display cases", 2],
  ["whom", "Whom you write to", "registrars of mid-size museums", 1],
  ["goal", "What they should do", "look at a sample sheet with me for ten minutes", 1],
  ["value", "What it is worth to them", "the record of a loan is ready the same afternoon", 1],
  ["occasion", "Why now", "the autumn loans are being prepared", 1],
] as const;

export function BriefDialog(props: {
  task: "sequence" | "email";
  /** Whom it is written to, where that is known. */
  whom?: string;
  /** What else the new sequence gets. */
  carried?: { name: string; list: string };
  onClose: () => void;
  onDraft: (help: Help) => void;
}) {
  const { task } = props;
  const [errors, setErrors] = useState<FieldErrors>(NONE);
  const { ask, isAsking, cancel } = useAssistant();
  const form = useSchemaForm(
    briefSchema,
    props.whom ? { ...lastBrief(), whom: props.whom } : lastBrief(),
    errors,
    async (brief) => {
      localStorage.setItem(KEPT, JSON.stringify(brief));
      setErrors(NONE);
      const answer = await ask({ task, brief, ...props.carried });
      if (answer?.ok) props.onDraft(answer.value);
      else if (answer) setErrors(answer.errors);
    },
  );
  return (
    <SchemaDialog
      title={task === "sequence" ? "Have a sequence drafted" : "Have this email drafted"}
      keep={isAsking ? "Cancel" : "Not now"}
      act={isAsking ? "It writes …" : "Draft it"}
      width="sm"
      onSubmit={form.onSubmit}
      errors={errors}
      isBusy={isAsking}
      onClose={isAsking ? cancel : props.onClose}
    >
      {TOLD.map(([name, label, placeholder, rows]) => (
        <TextInput
          key={name}
          in={form}
          name={name}
          label={label}
          placeholder={placeholder}
          multiline={rows > 1}
          minRows={rows}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      ))}
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <ChoiceInput in={form} name="tone" label="Tone" options={TONES.map((tone) => [tone, tone])} />
        <ChoiceInput in={form} name="language" label="Language" options={Object.entries(LANGUAGES)} />
        {task === "sequence" && <NumberInput in={form} name="steps" label="Touches" least={1} most={8} />}
      </Box>
      {task === "sequence" && <Channels form={form} />}
      <Typography variant="body2" color="textSecondary">
        A draft for you to read and change. Nothing goes out that no rep has seen.
      </Typography>
      {isAsking && <LinearProgress aria-label="The assistant writes" />}
    </SchemaDialog>
  );
}

function Channels({ form }: { form: FormOf<typeof briefSchema> }) {
  const { value = [], onChange } = useController({ control: form.control, name: "channels" }).field;
  return (
    <Box>
      {(Object.keys(CHANNELS) as (keyof typeof CHANNELS)[]).map((channel) => (
        <FormControlLabel
          key={channel}
          control={
            <Checkbox
              size="small"
              checked={value.includes(channel)}
              disabled={channel === "email"}
              onChange={({ target }) =>
                onChange(target.checked ? [...value, channel] : value.filter((each) => each !== channel))
              }
            />
          }
          label={CHANNELS[channel]}
        />
      ))}
    </Box>
  );
}
