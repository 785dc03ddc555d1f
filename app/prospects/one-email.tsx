/** One email to this prospect: now, at a time, or at their best hour, with a follow-up by choice. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields";
import type { OneEmailForm } from "../../server/sequences/one-email";
import { Choice } from "../components/choice";
import { Field, type FieldErrors } from "../components/field";
import { NumberField } from "../components/number-field";
import { Tick } from "../components/tick";
import { useAction } from "../components/use-action";
import { RichText } from "../sequences/text/rich-text";

const FIELDS = [...PROSPECT_FIELDS, ...SENDER_FIELDS];

export function OneEmailDialog(props: {
  prospectId: number;
  name: string;
  zone: string | null;
  samples: Record<string, string>;
  onClose: () => void;
}) {
  const { prospectId, onClose } = props;
  const act = useAction({}, onClose);
  const [form, setForm] = useState<OneEmailForm>({
    prospectId,
    subject: "",
    body: 'Hello {{ first_name | default: "there" }},\n\n',
    when: "now",
    followUp: null,
    remindAfter: null,
  });
  const set = (changes: Partial<OneEmailForm>) => setForm({ ...form, ...changes });
  const errors = act.isBusy ? {} : act.errors;
  const where = props.zone ? "their time" : "your time";
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Write to {props.name}</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "grid", gap: 1.75, pt: 1 }}>
          {errors.form && <Alert severity="error">{errors.form}</Alert>}
          <Field
            name="subject"
            label="Subject"
            value={form.subject}
            onChange={({ target }) => set({ subject: target.value })}
            errors={errors}
          />
          <Box
            sx={{
              border: "1px solid",
              borderColor: errors.body ? "error.main" : "divider",
              borderRadius: 1,
              px: 1.75,
              py: 1.25,
            }}
          >
            <RichText
              label="Text"
              value={form.body}
              onChange={(body) => set({ body })}
              fields={FIELDS}
              samples={props.samples}
              invalid={errors.body !== undefined}
            />
          </Box>
          {errors.body && (
            <Typography variant="caption" color="error">
              {errors.body}
            </Typography>
          )}
          <Box sx={{ display: "flex", gap: 1.5 }}>
            <Choice
              label="It leaves"
              value={form.when}
              onChange={(chosen) => set({ when: chosen as OneEmailForm["when"] })}
              sx={{ width: 240 }}
              options={[
                ["now", "now, in its turn"],
                ["best", "tomorrow, at their best hour"],
                ["at", "at a time"],
              ]}
            />
            {form.when === "at" && (
              <>
                <Field
                  name="date"
                  type="date"
                  label="Day"
                  value={form.date ?? ""}
                  onChange={({ target }) => set({ date: target.value || undefined })}
                  errors={errors}
                  slotProps={{ inputLabel: { shrink: true } }}
                  sx={{ width: 170 }}
                />
                <Field
                  name="time"
                  type="time"
                  label={`Time, ${where}`}
                  value={form.time ?? ""}
                  onChange={({ target }) => set({ time: target.value || undefined })}
                  errors={errors}
                  slotProps={{ inputLabel: { shrink: true } }}
                  sx={{ width: 150 }}
                />
              </>
            )}
          </Box>
          <Tick
            label="A follow-up, in the same thread"
            checked={form.followUp !== null}
            onChange={(isChecked) =>
              set({ followUp: isChecked ? { days: 4, body: "", unless: "answered" } : null })
            }
          />
          {form.followUp && (
            <FollowUpFields
              followUp={form.followUp}
              errors={errors}
              onChange={(followUp) => set({ followUp })}
            />
          )}
          <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <Tick
              label="Remind me on Today if nothing comes back"
              checked={form.remindAfter !== null}
              onChange={(isChecked) => set({ remindAfter: isChecked ? 5 : null })}
            />
            {form.remindAfter !== null && (
              <NumberField
                label="After working days"
                value={form.remindAfter}
                least={1}
                most={90}
                onChange={(number) => set({ remindAfter: number })}
                sx={{ width: 170 }}
              />
            )}
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button
          variant="contained"
          disabled={act.isBusy}
          onClick={() => act.press({ intent: "write_one", form: JSON.stringify(form) })}
        >
          {form.when === "now" ? "Send it" : "Plan it"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

type FollowUp = NonNullable<OneEmailForm["followUp"]>;

function FollowUpFields(props: {
  followUp: FollowUp;
  errors: FieldErrors;
  onChange: (followUp: FollowUp) => void;
}) {
  const { followUp, errors, onChange } = props;
  return (
    <Box sx={{ display: "grid", gap: 1.25, pl: 3.75 }}>
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <NumberField
          label="After working days"
          value={followUp.days}
          least={1}
          most={60}
          onChange={(number) =>
            onChange({
              ...followUp,
              days: number,
            })
          }
          sx={{ width: 170 }}
        />
        <Choice
          label="If they"
          value={followUp.unless}
          onChange={(chosen) => onChange({ ...followUp, unless: chosen as "answered" | "opened" })}
          sx={{ width: 260 }}
          options={[
            ["answered", "have not answered"],
            ["opened", "have not opened it"],
          ]}
        />
      </Box>
      <Field
        name="followUp.body"
        label="Its text"
        multiline
        minRows={3}
        value={followUp.body}
        onChange={({ target }) => onChange({ ...followUp, body: target.value })}
        errors={errors}
        sx={{ "& textarea": { typography: "letter" } }}
      />
    </Box>
  );
}
