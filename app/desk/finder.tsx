import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { useFetcher, useNavigate } from "react-router";
import type { Found } from "../../server/desk/find";
import { Key } from "../components/key";
import { PLACES } from "./places";

interface Option {
  kind: string;
  label: string;
  detail: string;
  to: string;
}

const ACTIONS: Option[] = [
  ...PLACES.map(({ to, name }) => ({ kind: "go to", label: name, detail: "", to })),
  { kind: "action", label: "Import prospects", detail: "from a CSV file", to: "/prospects/import" },
  { kind: "action", label: "Add a mailbox", detail: "", to: "/sending/mailboxes/new" },
];

/** Finds any prospect, company, sequence, mailbox or action. Ctrl K goes there. */
export function Finder() {
  const [typed, setTyped] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const fetcher = useFetcher<{ found: Found[] }>();
  const navigate = useNavigate();

  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        input.current?.focus();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);

  const matching = ACTIONS.filter(({ label }) => label.toLowerCase().includes(typed.trim().toLowerCase()));
  const options: Option[] = [...(typed.trim().length > 1 ? (fetcher.data?.found ?? []) : []), ...matching];
  return (
    <Autocomplete<Option, false, false, false>
      options={options}
      value={null}
      inputValue={typed}
      filterOptions={(all) => all}
      getOptionKey={(option) => option.to + option.label}
      isOptionEqualToValue={() => false}
      blurOnSelect
      clearOnBlur
      onInputChange={(_, text, reason) => {
        setTyped(reason === "input" ? text : "");
        if (reason === "input" && text.trim().length > 1)
          fetcher.load(`/finder?q=${encodeURIComponent(text)}`);
      }}
      onChange={(_, option) => option && navigate(option.to)}
      noOptionsText="Nothing of this name"
      sx={{ width: { xs: 1, md: 262 }, minWidth: 0 }}
      renderOption={({ key, ...props }, option) => (
        <Box component="li" key={key} {...props} sx={{ display: "block !important" }}>
          <Typography sx={{ fontWeight: 600 }}>{option.label}</Typography>
          <Typography variant="caption" color="textSecondary">
            {[option.kind, option.detail].filter(Boolean).join(" · ")}
          </Typography>
        </Box>
      )}
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder="Find a prospect, mailbox …"
          inputRef={input}
          slotProps={{
            ...params.slotProps,
            htmlInput: {
              ...params.slotProps.htmlInput,
              "aria-label": "Find a prospect, company, sequence or mailbox",
            },
            input: {
              ...params.slotProps.input,
              sx: { height: 34, bgcolor: "background.default", pr: "10px !important", fontSize: 14 },
              endAdornment: (
                <InputAdornment position="end" sx={{ display: { xs: "none", md: "flex" } }}>
                  <Key>Ctrl K</Key>
                </InputAdornment>
              ),
            },
          }}
        />
      )}
    />
  );
}
