/** The filters of a look, each a sentence of its own: whom it is about, what counts, and what an answer is owed to. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { STAGE_NAMES, STAGES } from "../../core/prospects/stages";
import { CREDITS, GREENS } from "../../core/results/credit";
import type { LookChoices } from "../../server/results/choices";
import type { Look } from "../../server/results/look";
import { shortDay } from "../components/words";
import { CREDIT_WORDS, GREEN_WORDS } from "./words";

/** What a look is where its address says nothing. */
const USUAL: Partial<Record<keyof Look, string>> = { credit: "answered", green: "positive" };

type Options = readonly (readonly [value: string, words: string])[];

/** `of`: filters that this page always shows; its look and its choices come with its data. */
export function LookBar({
  look,
  choices,
  of,
  more = [],
}: {
  look: Look;
  choices: LookChoices;
  of: readonly (keyof Look)[];
  /** Those that are asked for seldom: behind a press, unless they are set. */
  more?: readonly (keyof Look)[];
}) {
  const [isOpen, setOpen] = useState(false);
  const [, setQuery] = useSearchParams();
  const set = (changes: Record<string, string>) =>
    setQuery(
      (query) => {
        for (const [name, value] of Object.entries(changes)) {
          if (value === "") query.delete(name);
          else query.set(name, value);
        }
        return query;
      },
      { replace: true, preventScrollReset: true },
    );
  const { since, until } = look;
  const times: Options = [
    ["", "any time"],
    ...choices.times.map(({ since: day, words }) => [day, words] as const),
    ...(since && !choices.times.some((each) => each.since === since)
      ? ([[since, `since ${shortDay(since)}`]] as const)
      : []),
  ];
  const named = (all: readonly { id: number; name: string }[], none: string): Options => [
    ["", none],
    ...all.map(({ id, name }) => [String(id), name] as const),
  ];
  const chips: Partial<Record<keyof Look, { says: string; options: Options }>> = {
    since: { says: "Started", options: times },
    version: {
      says: "Version",
      options: [["", "any"], ...choices.versions.map((each) => [String(each), String(each)] as const)],
    },
    rep: { says: "Sent by", options: named(choices.reps, "anybody") },
    list: { says: "List", options: named(choices.lists, "any") },
    mailbox: { says: "Mailbox", options: named(choices.mailboxes, "any") },
    country: { says: "Country", options: [["", "any"], ...choices.countries] },
    stage: {
      says: "Stage",
      options: [["", "any"], ...STAGES.map((each) => [each, STAGE_NAMES[each]] as const)],
    },
    credit: { says: "Credit to", options: CREDITS.map((each) => [each, CREDIT_WORDS[each]] as const) },
    green: { says: "Green counts", options: GREENS.map((each) => [each, GREEN_WORDS[each].name] as const) },
  };
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mb: 2 }}>
      {[...of, ...more.filter((name) => isOpen || look[name] !== undefined)].map((name) => {
        const chip = chips[name];
        if (!chip || chip.options.length < 2) return null;
        return (
          <Chip
            key={name}
            {...chip}
            value={String(look[name] ?? "")}
            isUsual={String(look[name] ?? "") === String(USUAL[name] ?? "")}
            onChange={(value) => set({ [name]: value, ...(name === "since" && { until: "" }) })}
          />
        );
      })}
      {until && (
        <Chip
          says="Until"
          value="1"
          isUsual={false}
          options={[
            ["1", shortDay(until)],
            ["", "any day"],
          ]}
          onChange={() => set({ until: "" })}
        />
      )}
      {more.length > 0 && !isOpen && (
        <Button variant="text" size="small" onClick={() => setOpen(true)}>
          More filters
        </Button>
      )}
    </Box>
  );
}

/** The words lie under the browser's own list, which is as large and is what is pressed. */
function Chip(props: {
  says: string;
  value: string;
  /** It narrows nothing. */
  isUsual: boolean;
  options: Options;
  onChange: (value: string) => void;
}) {
  const { says, value, isUsual, options, onChange } = props;
  return (
    <Box
      component="label"
      sx={{
        position: "relative",
        display: "inline-flex",
        alignItems: "center",
        gap: 0.6,
        minHeight: { xs: 44, sm: 31 },
        px: 1.5,
        fontSize: 13,
        border: "1px solid",
        borderColor: isUsual ? "divider" : "tile.line",
        borderRadius: 1,
        bgcolor: isUsual ? "background.paper" : "tile.wash",
        maxWidth: "100%",
        "&:focus-within": { outline: "2px solid", outlineColor: "primary.main", outlineOffset: 1 },
        "& select": {
          position: "absolute",
          inset: 0,
          width: "100%",
          opacity: 0,
          cursor: "pointer",
          font: "inherit",
        },
      }}
    >
      <span aria-hidden>{says}</span>
      <Box
        component="b"
        aria-hidden
        sx={{ fontWeight: 600, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
      >
        {options.find(([each]) => each === value)?.[1] ?? "any"}
      </Box>
      <select aria-label={says} value={value} onChange={({ target }) => onChange(target.value)}>
        {options.map(([each, words]) => (
          <option key={each} value={each}>
            {words}
          </option>
        ))}
      </select>
    </Box>
  );
}
