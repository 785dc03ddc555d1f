/** Finds while it is typed in: a moment after the last key, or at once with Enter. */
import Box from "@mui/material/Box";
import type { SxProps, Theme } from "@mui/material/styles";
import { useEffect, useRef, useState } from "react";
import { PlainTextField } from "./plain-text-field";

/** Time for the next key, in ms. */
const REST = 250;

export function SearchField(props: {
  /** What is being looked for now. */
  value: string;
  label: string;
  placeholder: string;
  onSearch: (text: string) => void;
  sx?: SxProps<Theme>;
}) {
  const { value, label, placeholder, onSearch, sx } = props;
  const [text, setText] = useState(value);
  const asked = useRef(value);
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined);
  // Taken away or chosen elsewhere; what was asked from here and comes back late does not undo what was typed since.
  useEffect(() => {
    if (value === asked.current) return;
    asked.current = value;
    setText(value);
  }, [value]);
  useEffect(() => () => clearTimeout(rest.current), []);
  const ask = (wanted: string) => {
    clearTimeout(rest.current);
    if (wanted === asked.current) return;
    asked.current = wanted;
    onSearch(wanted);
  };
  return (
    <Box
      component="form"
      role="search"
      {...(sx ? { sx } : {})}
      onSubmit={(event) => {
        event.preventDefault();
        ask(text.trim());
      }}
    >
      <PlainTextField
        name="q"
        type="search"
        autoComplete="off"
        aria-label={label}
        placeholder={placeholder}
        value={text}
        onChange={({ target }) => {
          setText(target.value);
          clearTimeout(rest.current);
          rest.current = setTimeout(() => ask(target.value.trim()), REST);
        }}
        sx={{ "& .MuiInputBase-input": { py: 0.8 } }}
      />
    </Box>
  );
}
