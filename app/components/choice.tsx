import MenuItem from "@mui/material/MenuItem";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import type { ReactNode } from "react";
import type { FieldErrors } from "./field";

/** One of several, by its value and the words for it. Sent with a form under its `name`, or told to `onChange`. */
export function Choice<const Options extends readonly (readonly [string | number, ReactNode])[]>({
  options,
  onChange,
  errors,
  error: isWrong = false,
  ...field
}: Omit<TextFieldProps, "select" | "children" | "onChange" | "value" | "defaultValue" | "error"> & {
  options: Options;
  value?: Options[number][0];
  defaultValue?: Options[number][0];
  errors?: FieldErrors | undefined;
  error?: boolean;
  onChange?: (value: Options[number][0]) => void;
}) {
  const error = errors?.[field.name ?? ""];
  return (
    <TextField
      {...field}
      select
      error={isWrong || error !== undefined}
      helperText={error ?? field.helperText}
      {...(onChange && { onChange: ({ target }) => onChange(target.value as Options[number][0]) })}
    >
      {options.map(([value, words]) => (
        <MenuItem key={value} value={value}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
