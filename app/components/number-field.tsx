import TextField, { type TextFieldProps } from "@mui/material/TextField";

type Props = Omit<TextFieldProps, "type" | "onChange" | "value"> & { least?: number; most: number };

const within = (text: string, least: number, most: number) =>
  Math.max(least, Math.min(most, Math.round(Number(text)) || least));

/** A whole number between two bounds, which what is typed is brought into. */
export function NumberField({
  least = 0,
  most,
  onChange,
  ...field
}: Props & { value: number; onChange: (value: number) => void }) {
  return (
    <TextField
      {...field}
      type="number"
      onChange={({ target }) => onChange(within(target.value, least, most))}
    />
  );
}

/** The same, or null while it is empty; `placeholder` says what that means. */
export function OptionalNumberField({
  least = 1,
  most,
  value,
  onChange,
  ...field
}: Props & { value: number | null; onChange: (value: number | null) => void }) {
  return (
    <TextField
      {...field}
      type="number"
      value={value ?? ""}
      onChange={({ target }) => onChange(target.value === "" ? null : within(target.value, least, most))}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
}
