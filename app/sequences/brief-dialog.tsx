/** The brief for the writing assistant: what it has to know to draft. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Brief } from "../../core/writing/brief";
import { LANGUAGES, TONES } from "../../core/writing/brief-choices";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { NumberField } from "../components/number-field";
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
const KEPT = "saudade-brief";

/** What was told last time is told again, since who we are does not change. */
function lastBrief(): Brief {
  try {
    return { ...EMPTY, ...(JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Partial<Brief>) };
  } catch {
    return EMPTY;
  }
}

export function BriefDialog(props: {
  task: "sequence" | "email";
  onClose: () => void;
  onDraft: (help: Help) => void;
}) {
  const { task } = props;
  const [brief, setBrief] = useState(lastBrief);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const { ask, isAsking, cancel } = useAssistant();
  const set = (changes: Partial<Brief>) => setBrief({ ...brief, ...changes });

  async function draft(): Promise<void> {
    localStorage.setItem(KEPT, JSON.stringify(brief));
    setErrors({});
    const answer = await ask({ task, brief });
    if (answer?.ok) props.onDraft(answer.value);
    else if (answer) setErrors(answer.errors);
  }
  const field = (
    name: "who" | "whom" | "goal" | "value" | "occasion",
    label: string,
    placeholder: string,
    rows = 1,
  ) => (
    <Field
      name={name}
      label={label}
      placeholder={placeholder}
      value={brief[name]}
      onChange={({ target }) => set({ [name]: target.value })}
      errors={errors}
      multiline={rows > 1}
      minRows={rows}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
  return (
    <Dialog open onClose={isAsking ? undefined : props.onClose} fullWidth maxWidth="sm">
      <DialogTitle>{task === "sequence" ? "Have a sequence drafted" : "Have this email drafted"}</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "grid", gap: 1.75, pt: 1 }}>
          {errors.form && <Alert severity="error">{errors.form}</Alert>}
          {field(
            "who",
            "Who you are, and what you do",
            "We make small loggers that record humidity in display cases",
            2,
          )}
          {field("whom", "Whom you write to", "registrars of mid-size museums")}
          {field("goal", "What they should do", "look at a sample sheet with me for ten minutes")}
          {field("value", "What it is worth to them", "the record of a loan is ready the same afternoon")}
          {field("occasion", "Why now", "the autumn loans are being prepared")}
          <Box sx={{ display: "flex", gap: 1.5 }}>
            <Choice
              label="Tone"
              value={brief.tone}
              onChange={(chosen) => set({ tone: chosen as Brief["tone"] })}
              options={TONES.map((tone) => [tone, tone] as const)}
            />
            <Choice
              label="Language"
              value={brief.language}
              onChange={(chosen) => set({ language: chosen as Brief["language"] })}
              options={Object.entries(LANGUAGES)}
            />
            {task === "sequence" && (
              <NumberField
                label="Touches"
                value={brief.steps}
                least={1}
                most={8}
                onChange={(number) => set({ steps: number })}
              />
            )}
          </Box>
          {task === "sequence" && (
            <Box>
              {(Object.keys(CHANNELS) as (keyof typeof CHANNELS)[]).map((channel) => (
                <FormControlLabel
                  key={channel}
                  control={
                    <Checkbox
                      size="small"
                      checked={brief.channels.includes(channel)}
                      disabled={channel === "email"}
                      onChange={({ target }) =>
                        set({
                          channels: target.checked
                            ? [...brief.channels, channel]
                            : brief.channels.filter((each) => each !== channel),
                        })
                      }
                    />
                  }
                  label={CHANNELS[channel]}
                />
              ))}
            </Box>
          )}
          <Typography variant="body2" color="textSecondary">
            A draft for you to read and change. Nothing goes out that no rep has seen.
          </Typography>
          {isAsking && <LinearProgress aria-label="The assistant writes" />}
        </Box>
      </DialogContent>
      <DialogActions>
        {isAsking ? (
          <Button onClick={cancel}>Cancel</Button>
        ) : (
          <Button onClick={props.onClose}>Not now</Button>
        )}
        <Button variant="contained" disabled={isAsking} onClick={() => void draft()}>
          {isAsking ? "It writes …" : "Draft it"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
