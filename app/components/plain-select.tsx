import FormControl from "@mui/material/FormControl";
import InputLabel from "@mui/material/InputLabel";
import NativeSelect from "@mui/material/NativeSelect";
import OutlinedInput from "@mui/material/OutlinedInput";
import type { SxProps, Theme } from "@mui/material/styles";
import { useId } from "react";
import type { Named } from "./plain-text-field";

/** A choice with the browser's own list. */
export function PlainSelect(
  props: Named & {
    name?: string;
    value?: string;
    defaultValue?: string;
    onChange?: (value: string) => void;
    options: readonly (readonly [value: string, words: string])[];
    sx: SxProps<Theme>;
  },
) {
  const { label, "aria-label": spoken, name, value, defaultValue, onChange, options, sx } = props;
  const id = useId();
  return (
    <FormControl size="small" sx={sx}>
      {label && (
        <InputLabel htmlFor={id} shrink>
          {label}
        </InputLabel>
      )}
      <NativeSelect
        input={<OutlinedInput {...(label ? { label, notched: true } : {})} />}
        {...(name ? { name } : {})}
        {...(value === undefined ? { defaultValue } : { value })}
        {...(onChange ? { onChange: ({ target }) => onChange(target.value) } : {})}
        inputProps={{ id, ...(spoken ? { "aria-label": spoken } : {}) }}
      >
        {options.map(([each, words]) => (
          <option key={each} value={each}>
            {words}
          </option>
        ))}
      </NativeSelect>
    </FormControl>
  );
}
