import FormControl from "@mui/material/FormControl";
import FormHelperText from "@mui/material/FormHelperText";
import InputLabel from "@mui/material/InputLabel";
import OutlinedInput, { type OutlinedInputProps } from "@mui/material/OutlinedInput";
import { useId } from "react";
import type { FieldErrors } from "./field";

export type Named = { label: string; "aria-label"?: never } | { label?: never; "aria-label": string };

type PlainTextFieldProps = Omit<OutlinedInputProps, "id" | "label" | "aria-label" | "slotProps"> &
  Named & { helperText?: string; errors?: FieldErrors | undefined };

/**
 * For pages that are to be light: MUI's own text field brings its select's menus to every page that has a field.
 * With `errors`, what is wrong with it stands below in place of the hint.
 */
export function PlainTextField({
  label,
  "aria-label": spoken,
  helperText,
  errors,
  sx,
  ...input
}: PlainTextFieldProps) {
  const id = useId();
  const wrong = errors?.[input.name ?? ""];
  const below = wrong ?? helperText;
  return (
    <FormControl fullWidth size="small" error={wrong !== undefined} {...(sx ? { sx } : {})}>
      {label && <InputLabel htmlFor={id}>{label}</InputLabel>}
      <OutlinedInput
        id={id}
        {...(label ? { label } : {})}
        {...(spoken ? { slotProps: { input: { "aria-label": spoken } } } : {})}
        {...(below ? { "aria-describedby": `${id}-below` } : {})}
        {...input}
      />
      {below && <FormHelperText id={`${id}-below`}>{below}</FormHelperText>}
    </FormControl>
  );
}
