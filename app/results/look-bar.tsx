/** The filters of a look, each a sentence of its own: whom it is about, what counts, and what an answer is owed to. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Suspense, useState } from "react";
import { useLocation, useSearchParams } from "react-router";
import { STAGE_NAMES, STAGES } from "../../core/prospects/stages";
import { CREDITS, GREENS } from "../../core/results/credit";
import type { LookChoices } from "../../server/results/choices";
import type { Look } from "../../server/results/look";
import { lazily } from "../components/lazily";
import { shortDay } from "../components/words";
import { CREDIT_WORDS, GREEN_WORDS } from "./words";

/** What a look is where its address says nothing. */
const USUAL: Partial<Record<keyof Look, string>> = { credit: "answered", green: "positive" };

/** Whether it is about some of the people only. */
export const isNarrowed = ({ credit: _credit, green: _green, ...filters }: Look): boolean =>
  Object.values(filters).some((value) => value !== undefined);

/** Opens the fields for two days. */
const BETWEEN = "between";

const KeptLooks = lazily(() => import("./kept-looks"), "KeptLooks");

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
  const [isKeeping, setKeeping] = useState(false);
  const [query, setQuery] = useSearchParams();
  const { pathname } = useLocation();
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
  const isUsual = (name: keyof Look) => String(look[name] ?? "") === String(USUAL[name] ?? "");
  const times: Options = [
    ["", "any time"],
    ...choices.times.map(({ since: day, words }) => [day, words] as const),
    ...(since && !choices.times.some((each) => each.since === since)
      ? ([[since, `since ${shortDay(since)}`]] as const)
      : []),
    [BETWEEN, "between two days …"],
  ];
  const [areDaysShown, showDays] = useState(until !== undefined);
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
      {[...of, ...more.filter((name) => isOpen || !isUsual(name))].map((name) => {
        const chip = chips[name];
        if (!chip || chip.options.length < 2) return null;
        return (
          <Chip
            key={name}
            {...chip}
            value={String(look[name] ?? "")}
            isUsual={isUsual(name)}
            onChange={(value) => {
              if (value === BETWEEN) return showDays(true);
              if (name === "since") showDays(false);
              set({ [name]: value, ...(name === "since" && { until: "" }) });
            }}
          />
        );
      })}
      {areDaysShown && (
        <>
          <Day says="From" value={since ?? ""} onChange={(value) => set({ since: value })} />
          <Day says="Until" value={until ?? ""} onChange={(value) => set({ until: value })} />
        </>
      )}
      {more.length > 0 && !isOpen && (
        <Button variant="text" size="small" onClick={() => setOpen(true)}>
          More filters
        </Button>
      )}
      <Button variant="text" size="small" onClick={() => setKeeping(true)}>
        {choices.kept.length === 0 ? "Keep this look" : `Looks (${choices.kept.length})`}
      </Button>
      {isKeeping && (
        <Suspense>
          <KeptLooks
            looks={choices.kept}
            path={pathname}
            query={query.toString()}
            onClose={() => setKeeping(false)}
          />
        </Suspense>
      )}
    </Box>
  );
}

/** A day of one's own choosing; "" while it is half typed. */
function Day({ says, value, onChange }: { says: string; value: string; onChange: (day: string) => void }) {
  return (
    <Box component="label" sx={{ ...CHIP, borderColor: value === "" ? "divider" : "tile.line" }}>
      {says}
      <Box
        component="input"
        type="date"
        value={value}
        onChange={({ target }: React.ChangeEvent<HTMLInputElement>) => onChange(target.value)}
        sx={{ border: 0, outline: 0, bgcolor: "transparent", font: "inherit", fontWeight: 600 }}
      />
    </Box>
  );
}

const CHIP = {
  position: "relative",
  display: "inline-flex",
  alignItems: "center",
  gap: 0.6,
  minHeight: { xs: 44, sm: 31 },
  px: 1.5,
  fontSize: 13,
  border: "1px solid",
  borderRadius: 1,
  bgcolor: "background.paper",
  maxWidth: "100%",
  "&:focus-within": { outline: "2px solid", outlineColor: "primary.main", outlineOffset: 1 },
} as const;

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
        ...CHIP,
        borderColor: isUsual ? "divider" : "tile.line",
        bgcolor: isUsual ? "background.paper" : "tile.wash",
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
