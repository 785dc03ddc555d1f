import Autocomplete from "@mui/material/Autocomplete";
import Box from "@mui/material/Box";
import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type RefObject, useCallback, useEffect, useState } from "react";
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

export interface FinderListProps {
  field: RefObject<HTMLInputElement | null>;
  begun: string;
  name: string;
  placeholder: string;
}

/** Writing to the likeliest stands beside their story. */
const withWriting = (found: readonly Found[]): Option[] => {
  const first = found.find(({ kind }) => kind === "prospect");
  return found.flatMap((each) =>
    each === first
      ? [
          each,
          {
            kind: "action",
            label: `Write to ${each.label}`,
            detail: "one email, now or later",
            to: each.to.replace("/prospects/", "/emails/new?to="),
          },
        ]
      : [each],
  );
};

/** The finder once somebody has gone to it, with what they have typed until then. */
export function FinderList({ field, begun, name, placeholder }: FinderListProps) {
  const [typed, setTyped] = useState(begun);
  const [isOpen, setOpen] = useState(true);
  const { load, data } = useFetcher<{ found: Found[] }>();
  const navigate = useNavigate();
  const find = useCallback(
    (text: string) => text.trim().length > 1 && load(`/finder?q=${encodeURIComponent(text)}`),
    [load],
  );
  useEffect(() => {
    field.current?.setSelectionRange(begun.length, begun.length);
    void find(begun);
  }, [field, begun, find]);

  const matching = ACTIONS.filter(({ label }) => label.toLowerCase().includes(typed.trim().toLowerCase()));
  const found = typed.trim().length > 1 ? (data?.found ?? []) : [];
  const options: Option[] = [...withWriting(found), ...matching];
  return (
    <Autocomplete<Option, false, false, false>
      options={options}
      open={isOpen}
      onOpen={() => setOpen(true)}
      onClose={() => setOpen(false)}
      value={null}
      inputValue={typed}
      filterOptions={(all) => all}
      getOptionKey={(option) => option.to + option.label}
      isOptionEqualToValue={() => false}
      blurOnSelect
      clearOnBlur
      onInputChange={(_, text, reason) => {
        // What was typed before it came stays.
        if (reason !== "reset") setTyped(reason === "input" ? text : "");
        if (reason === "input") void find(text);
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
          placeholder={placeholder}
          inputRef={field}
          autoFocus
          slotProps={{
            ...params.slotProps,
            htmlInput: {
              ...params.slotProps.htmlInput,
              "aria-label": name,
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
