import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import FormGroup from "@mui/material/FormGroup";
import FormHelperText from "@mui/material/FormHelperText";
import FormLabel from "@mui/material/FormLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import type { WritesTo } from "../../core/prospects/verdict";
import type { ListRow } from "../../server/prospects/lists/lists";
import type { MailboxChoice } from "../../server/sequences/open-sequence";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { Field } from "../components/field";
import { ZoneField } from "../components/zone-field";

const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

export function SequenceSettings(props: {
  form: SequenceForm;
  onChange: (form: SequenceForm) => void;
  lists: ListRow[];
  mailboxes: MailboxChoice[];
  errors: Record<string, string>;
}) {
  const { form, onChange, lists, mailboxes, errors } = props;
  const set = (changes: Partial<SequenceForm>) => onChange({ ...form, ...changes });
  return (
    <Box sx={{ display: "grid", gap: 2.5, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}>
      <Field
        name="name"
        label="Name"
        value={form.name}
        onChange={(event) => set({ name: event.target.value })}
        errors={errors}
      />
      <TextField
        select
        label="Writes to the list"
        value={form.listId ?? ""}
        onChange={(event) => set({ listId: Number(event.target.value) || null })}
      >
        <MenuItem value="">No list yet</MenuItem>
        {lists.map(({ id, name, count }) => (
          <MenuItem key={id} value={id}>
            {name} ({count})
          </MenuItem>
        ))}
      </TextField>
      <Box>
        <FormLabel component="legend" sx={{ fontSize: 13, mb: 0.75 }}>
          Emails leave on
        </FormLabel>
        <ToggleButtonGroup
          size="small"
          value={form.days}
          onChange={(_, days: number[]) => days.length > 0 && set({ days: days.toSorted() })}
          aria-label="Weekdays"
        >
          {WEEKDAYS.map((name, index) => (
            <ToggleButton key={name} value={index + 1} sx={{ px: 1.25, textTransform: "none" }}>
              {name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <Field
          name="opens"
          type="time"
          label="from"
          value={form.opens}
          onChange={(event) => set({ opens: event.target.value })}
          errors={errors}
        />
        <Field
          name="closes"
          type="time"
          label="until"
          value={form.closes}
          onChange={(event) => set({ closes: event.target.value })}
          errors={errors}
        />
      </Box>
      <Box>
        <ZoneField value={form.zone} onChange={(zone) => set({ zone })} error={errors.zone} />
        <FormHelperText>Where the prospect is, if their zone is known; else this one.</FormHelperText>
        <FormControlLabel
          sx={{ mt: 1 }}
          control={
            <Checkbox
              size="small"
              checked={form.tracks}
              onChange={(event) => set({ tracks: event.target.checked })}
            />
          }
          label="See opens and clicks (sends HTML beside the text)"
        />
      </Box>
      <TextField
        select
        label="Writes to addresses that are"
        value={form.writesTo}
        onChange={(event) => set({ writesTo: event.target.value as WritesTo })}
        helperText="The others start and wait until their address is better known. Bad ones never get mail."
      >
        <MenuItem value="good">good</MenuItem>
        <MenuItem value="risky">good or risky</MenuItem>
        <MenuItem value="any">good, risky, or not known</MenuItem>
      </TextField>
      <FormGroup>
        <FormLabel component="legend" sx={{ fontSize: 13 }}>
          Sends from, in turn
        </FormLabel>
        {mailboxes.map(({ id, address, dailyLimit, state }) => (
          <FormControlLabel
            key={id}
            control={
              <Checkbox
                size="small"
                checked={form.mailboxIds.includes(id)}
                onChange={(event) =>
                  set({
                    mailboxIds: event.target.checked
                      ? [...form.mailboxIds, id].toSorted((a, b) => a - b)
                      : form.mailboxIds.filter((each) => each !== id),
                  })
                }
              />
            }
            label={`${address}, ${state === "active" ? `${dailyLimit} a day` : state === "resting" ? "rests" : "paused"}`}
          />
        ))}
        {mailboxes.length === 0 && <FormHelperText>Add a mailbox under Sending first.</FormHelperText>}
      </FormGroup>
    </Box>
  );
}
