/** What an import would clean, rule by rule, and what it would change of people who are known. */

import Box from "@mui/material/Box";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import type { CleaningRule } from "../../core/prospects/cleaning/rules";
import type { CleaningCount, ImportRow, KnownChoice } from "../../server/prospects/imports/imports";
import { Choice } from "../components/choice";
import { Row } from "../components/row";
import { count } from "../components/words";
import { fieldName, RULE_NAMES } from "./words";

export function BeforeAfter({ before, after }: { before: string; after: string }) {
  return (
    <Box component="span" sx={{ whiteSpace: "nowrap" }}>
      <Box component="s" sx={{ color: "text.secondary", textDecorationColor: "inherit" }}>
        {before || "blank"}
      </Box>{" "}
      → {after || "blank"}
    </Box>
  );
}

export function CleaningReview(props: {
  cleaning: CleaningCount[];
  off: CleaningRule[];
  onOff: (off: CleaningRule[]) => void;
}) {
  const rules = [
    ...props.cleaning,
    ...props.off
      .filter((rule) => !props.cleaning.some((each) => each.rule === rule))
      .map((rule) => ({ rule, count: 0, examples: [] })),
  ];
  if (rules.length === 0) return null;
  return (
    <Box component="section" sx={{ mb: 3 }}>
      <Typography variant="h2">What will be cleaned</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        Each kind can be switched off here. Single values can be given back afterwards, under Cleaning of the
        list.
      </Typography>
      {rules.map(({ rule, count: values, examples }) => (
        <Row columns="48px 250px minmax(0,1fr)" key={rule} sx={{ alignItems: "center", gap: 1, py: 0.6 }}>
          <Switch
            size="small"
            checked={!props.off.includes(rule)}
            onChange={(event) =>
              props.onOff(
                event.target.checked ? props.off.filter((each) => each !== rule) : [...props.off, rule],
              )
            }
            slotProps={{ input: { "aria-label": RULE_NAMES[rule] } }}
          />
          <Box>
            <Typography sx={{ fontWeight: 600 }}>{RULE_NAMES[rule]}</Typography>
            <Typography variant="caption" color="textSecondary">
              {values > 0 ? count(values, "value") : "switched off"}
            </Typography>
          </Box>
          <Typography
            variant="body2"
            noWrap
            component="div"
            sx={{ display: "flex", gap: 2, overflow: "hidden" }}
          >
            {examples.slice(0, 3).map(({ line, before, after }) => (
              <BeforeAfter key={line} before={before} after={after} />
            ))}
          </Typography>
        </Row>
      ))}
    </Box>
  );
}

const CHOICES: [KnownChoice, string][] = [
  ["fill", "Fill blanks only"],
  ["replace", "Replace with the file's"],
  ["keep", "Keep what you have"],
];

interface Difference {
  field: string;
  before: string;
  after: string;
}

export function KnownReview(props: {
  fields: { field: string; differ: number; blank: number }[];
  rows: ImportRow[];
  total: number;
  /** Colleagues' people of whom the file says something else. */
  anothers: number;
  choices: Record<string, KnownChoice>;
  onChoices: (choices: Record<string, KnownChoice>) => void;
}) {
  if (props.total === 0) return null;
  return (
    <Box component="section" sx={{ mb: 3 }}>
      <Typography variant="h2">{count(props.total, "person is", "people are")} known already</Typography>
      <Typography color="textSecondary" sx={{ mb: 1 }}>
        {[
          props.fields.length > 0
            ? "Choose for each field what happens where the file says something else."
            : props.anothers === 0 && "The file says nothing new about them.",
          props.anothers > 0 &&
            `The file says something else about ${props.anothers} of them, who ${props.anothers === 1 ? "is a colleague's" : "are colleagues'"}: they stay as they are.`,
        ]
          .filter(Boolean)
          .join(" ")}
      </Typography>
      {props.fields.map(({ field, differ, blank }) => (
        <Row
          columns={{ xs: "minmax(0, 1fr)", md: "170px 230px minmax(0, 1fr)" }}
          key={field}
          sx={{ gap: 2, alignItems: "center", py: 0.8 }}
        >
          <Box>
            <Typography sx={{ fontWeight: 600 }}>{fieldName(field)}</Typography>
            <Typography variant="caption" color="textSecondary">
              {[differ > 0 && `${differ} differ`, blank > 0 && `${blank} blank`].filter(Boolean).join(", ")}
            </Typography>
          </Box>
          <Choice
            value={props.choices[field] ?? "fill"}
            onChange={(chosen) => props.onChoices({ ...props.choices, [field]: chosen as KnownChoice })}
            slotProps={{ htmlInput: { "aria-label": `For ${fieldName(field)}` } }}
            options={CHOICES}
          />
          <Typography
            variant="body2"
            noWrap
            component="div"
            sx={{ display: "flex", gap: 2, overflow: "hidden" }}
          >
            {props.rows
              .flatMap(({ line, detail }) =>
                (JSON.parse(detail).differ as Difference[])
                  .filter((each) => each.field === field)
                  .map((each) => ({ line, ...each })),
              )
              .slice(0, 3)
              .map(({ line, before, after }) => (
                <BeforeAfter key={line} before={before} after={after} />
              ))}
          </Typography>
        </Row>
      ))}
    </Box>
  );
}
