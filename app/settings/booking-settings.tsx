import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { UserSettings } from "../../server/accounts/settings";
import { Field } from "../components/field";
import { Part, three, two, useSettingsForm } from "./parts";

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const LENGTHS = [15, 30, 45, 60, 90];

/** Several of a few; sends them with commas between. */
function Choice({
  name,
  label,
  options,
  value,
  onChange,
  error,
}: {
  name: string;
  label: string;
  options: [number, string][];
  value: number[];
  onChange: (value: number[]) => void;
  error: string | undefined;
}) {
  return (
    <Box>
      <Typography variant="body2" color={error ? "error" : "textSecondary"} sx={{ mb: 0.5 }}>
        {error ?? label}
      </Typography>
      <input type="hidden" name={name} value={value.join()} />
      <ToggleButtonGroup
        size="small"
        value={value}
        onChange={(_, next: number[]) => onChange(next)}
        aria-label={label}
      >
        {options.map(([each, words]) => (
          <ToggleButton key={each} value={each} sx={{ textTransform: "none", px: 1.5 }}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}

export function BookingSettings({
  settings,
  url,
  zone,
}: {
  settings: UserSettings;
  url: string;
  zone: string;
}) {
  const part = useSettingsForm();
  const { errors } = part;
  const [days, setDays] = useState(settings.days);
  const [lengths, setLengths] = useState(settings.lengths);
  const [where, setWhere] = useState(settings.where);
  const [copied, setCopied] = useState(false);
  return (
    <Part title="Booking page" intent="booking" button="Save hours and booking" settings={part}>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
        <TextField
          label="Its address; in an email write {{ booking_link }}"
          value={url}
          slotProps={{ htmlInput: { readOnly: true } }}
          sx={{ flex: 1 }}
        />
        <Button
          type="button"
          onClick={() => void navigator.clipboard.writeText(url).then(() => setCopied(true))}
          sx={{ minWidth: 92 }}
        >
          {copied ? "Copied" : "Copy it"}
        </Button>
      </Box>
      <Choice
        name="days"
        label={`Days on which you work, in ${zone.replaceAll("_", " ")}`}
        options={DAYS.map((day, index) => [index + 1, day])}
        value={days}
        onChange={setDays}
        error={errors.days}
      />
      <Box sx={two}>
        <Field errors={errors} name="opens" label="From" type="time" defaultValue={settings.opens} />
        <Field errors={errors} name="closes" label="Until" type="time" defaultValue={settings.closes} />
      </Box>
      <Choice
        name="lengths"
        label="How long a call may take; with several, the visitor chooses"
        options={LENGTHS.map((minutes) => [minutes, `${minutes} min`])}
        value={lengths}
        onChange={setLengths}
        error={errors.lengths}
      />
      <Box sx={three}>
        <Field
          errors={errors}
          name="buffer"
          label="Free minutes around each"
          defaultValue={settings.buffer}
        />
        <Field errors={errors} name="notice" label="Hours of notice" defaultValue={settings.notice} />
        <Field errors={errors} name="daysAhead" label="Days ahead" defaultValue={settings.daysAhead} />
        <Field
          errors={errors}
          name="mostADay"
          label="Calls a day at most"
          defaultValue={settings.mostADay}
          helperText="0 for as many as fit."
        />
        <Field
          errors={errors}
          name="where"
          label="Where"
          select
          value={where}
          onChange={(event) => setWhere(event.target.value === "place" ? "place" : "phone")}
          sx={{ gridColumn: { sm: "span 2" } }}
        >
          <MenuItem value="phone">I call them; the page asks for the number</MenuItem>
          <MenuItem value="place">We meet in one place, or at one link</MenuItem>
        </Field>
      </Box>
      {where === "place" && (
        <Field
          errors={errors}
          name="place"
          label="The place, or the link of the video room"
          defaultValue={settings.place}
        />
      )}
    </Part>
  );
}
