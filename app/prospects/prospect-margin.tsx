/** Why somebody stands where they stand, and how sure their address is. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { STAGE_NAMES, STAGES } from "../../core/prospects/stages";
import type { AddressState } from "../../core/prospects/verdict";
import type { ProspectRow } from "../../server/prospects/people/list-prospects";
import type { Overview } from "../../server/prospects/people/overview";
import { MarginNote } from "../components/page";
import { count, stopWords, waitSentence } from "../components/words";
import { AddressPill } from "./address-pill";
import { verdictDate, verdictSentence } from "./words";

function journeyWords(row: ProspectRow, now: number, zone: string): string {
  if (row.blocked) return "On the block list";
  if (!row.sequence) return "Not written to yet";
  if (row.journeyState === "stopped") return `${row.sequence}: stopped, ${stopWords(row.stopReason)}`;
  if (row.journeyState === "finished") return `${row.sequence}: finished`;
  return `${row.sequence}: ${waitSentence(row.waitReason ?? "in_line", row.waitDetail, row.nextAt, now, zone)}`;
}

export function ProspectMargin({ row, now, zone }: { row: ProspectRow; now: number; zone: string }) {
  return (
    <>
      <MarginNote title="Chosen">
        <Typography variant="letter">{row.name || row.email}</Typography>
        <Typography color="textSecondary">{[row.title, row.company].filter(Boolean).join(", ")}</Typography>
        {row.owner && <Typography color="textSecondary">Owner: {row.owner}</Typography>}
        {row.email !== "" && (
          <Button size="small" component={Link} to={`/emails/new?to=${row.id}`} sx={{ mt: 1 }}>
            Write to them
          </Button>
        )}
      </MarginNote>
      <MarginNote title="The address">
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 0.75, flexWrap: "wrap" }}>
          <AddressPill of={row} />
          <Typography variant="body2" sx={{ wordBreak: "break-all" }}>
            {row.email}
          </Typography>
        </Box>
        <Typography>
          {row.email === ""
            ? "None is known. It can be found by the company's pattern, under Addresses of a list."
            : verdictSentence(row.verdictReason, row.verdictDetail)}
        </Typography>
        <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0.5 }}>
          {verdictDate(row.verdictAt, zone)}
        </Typography>
      </MarginNote>
      <MarginNote title="Where they stand, and why">
        <Typography>{journeyWords(row, now, zone)}.</Typography>
      </MarginNote>
    </>
  );
}

/** Everybody at a glance, while nobody is chosen: where they stand, and what is left to do before they can be written to. */
export function OverviewMargin({ overview, total }: { overview: Overview; total: number }) {
  const { stages, addresses } = overview;
  const todo: [count: number, words: string, verdict: AddressState][] = [
    [addresses.missing, "without an address", "missing"],
    [addresses.unchecked, "whose address was never checked", "unchecked"],
    [addresses.doubtful, "whose address something speaks against", "doubtful"],
    [addresses.bad, "whose address takes no mail", "bad"],
  ];
  const open = todo.filter(([people]) => people > 0);
  const most = Math.max(1, ...Object.values(stages));
  return (
    <>
      <MarginNote title="Where they stand">
        {STAGES.map((stage) => [stage, stages[stage]] as const)
          .filter(([, people]) => people > 0)
          .map(([stage, people]) => (
            <Box key={stage} sx={{ mb: 1 }}>
              <Typography sx={{ display: "flex" }}>
                <Box component={Link} to={`/prospects?stage=${stage}`} sx={{ flex: 1 }}>
                  {STAGE_NAMES[stage]}
                </Box>
                {people.toLocaleString("en-GB")}
              </Typography>
              <Box
                aria-hidden
                sx={{ height: 5, borderRadius: 1, bgcolor: "tile.line", width: `${(100 * people) / most}%` }}
              />
            </Box>
          ))}
      </MarginNote>
      <MarginNote title="Before you write to them">
        {open.length === 0 ? (
          <Typography>
            All {total.toLocaleString("en-GB")} addresses are checked, and nothing speaks against them.
          </Typography>
        ) : (
          <Box component="ul" sx={{ m: 0, pl: 2.25, display: "grid", gap: 0.5 }}>
            {open.map(([people, words, verdict]) => (
              <li key={verdict}>
                <Link to={`/prospects?f=${encodeURIComponent(JSON.stringify(addressFilter(verdict)))}`}>
                  {count(people, "person", "people")}
                </Link>{" "}
                {words}
              </li>
            ))}
          </Box>
        )}
      </MarginNote>
    </>
  );
}

const addressFilter = (verdict: AddressState) => ({
  match: "all",
  groups: [{ match: "all", conditions: [{ field: "verdict", op: "is", value: verdict }] }],
});
