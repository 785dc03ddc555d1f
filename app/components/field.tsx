import TextField, { type TextFieldProps } from "@mui/material/TextField";

/** What is wrong with each field of a form, by the field's name; `form` is what is wrong with the whole. */
export type FieldErrors = Record<string, string>;

type FieldProps = Omit<TextFieldProps, "error"> & { name: string; errors: FieldErrors | undefined };

/** A text field with what is wrong with it below, or else its hint. */
export function Field({ errors, helperText, ...field }: FieldProps) {
  const error = errors?.[field.name];
  return <TextField {...field} error={!!error} helperText={error ?? helperText} />;
}
