import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";

const ZONES = ["UTC", ...Intl.supportedValuesOf("timeZone")];

/** Chooses a time zone; sends it as `zone`. */
export function ZoneField({
  value,
  onChange,
  error,
  label = "Time zone",
}: {
  value: string;
  onChange: (zone: string) => void;
  error?: string | undefined;
  label?: string;
}) {
  return (
    <Autocomplete
      options={ZONES.includes(value) ? ZONES : [value, ...ZONES]}
      value={value}
      disableClearable
      size="small"
      onChange={(_, zone) => onChange(zone)}
      renderInput={(params) => (
        <TextField {...params} name="zone" label={label} error={!!error} helperText={error} />
      )}
    />
  );
}
