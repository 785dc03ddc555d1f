/** Why somebody stands where they stand, and how sure their address is. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ProspectRow } from "../../server/prospects/people/list-prospects";
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

export function ProspectMargin({
  row,
  now,
  zone,
  lists,
}: {
  row: ProspectRow | undefined;
  now: number;
  zone: string;
  lists: number;
}) {
  if (!row)
    return (
      <MarginNote title="About this page">
        <Typography>
          Press a row to see where somebody stands and how sure their address is. The name opens their page.{" "}
          {count(lists, "list")} so far.
        </Typography>
      </MarginNote>
    );
  return (
    <>
      <MarginNote title="Chosen">
        <Typography variant="letter">{row.name || row.email}</Typography>
        <Typography color="textSecondary">{[row.title, row.company].filter(Boolean).join(", ")}</Typography>
        {row.owner && <Typography color="textSecondary">Owner: {row.owner}</Typography>}
      </MarginNote>
      <MarginNote title="How sure the address is">
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
