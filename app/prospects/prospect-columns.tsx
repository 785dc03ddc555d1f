/** The columns of the table of prospects: two lines a cell, the first what one looks for, the second what one reads then. */

import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { GridColDef } from "@mui/x-data-grid";
import { Link } from "react-router";
import { STAGE_NAMES } from "../../core/prospects/stages";
import type { ProspectRow } from "../../server/prospects/people/list-prospects";
import { Pill } from "../components/pill";
import { stopWords, when } from "../components/words";
import { AddressWord } from "./address-pill";
import { FOUND } from "./column-layout";

/** In a few words; the margin gives the reason. */
function journeyState(row: ProspectRow, now: number, zone: string): string {
  if (row.blocked) return "on the block list";
  if (!row.sequence) return "not written to yet";
  if (row.journeyState === "stopped") return `stopped: ${stopWords(row.stopReason)}`;
  if (row.journeyState === "finished") return "got every step";
  return row.nextAt === null ? "waits" : `next ${when(row.nextAt, now, zone)}`;
}

export function prospectColumns(now: number, zone: string): GridColDef<ProspectRow>[] {
  return [
    {
      field: "name",
      headerName: "Name",
      flex: 1.2,
      renderCell: ({ row }) => (
        <Two
          first={
            <Typography
              noWrap
              component={Link}
              to={`/prospects/${row.id}`}
              sx={{
                display: "block",
                fontWeight: 600,
                color: "inherit",
                textDecoration: "none",
                "&:hover": { textDecoration: "underline" },
              }}
            >
              {row.name || row.email || "No name"}
            </Typography>
          }
          second={row.title || "–"}
        />
      ),
    },
    {
      field: "company",
      headerName: "Company",
      flex: 1,
      renderCell: ({ row }) => (
        <Two first={<Typography noWrap>{row.company || "–"}</Typography>} second={row.city || "–"} />
      ),
    },
    {
      field: "verdict",
      headerName: "Address",
      flex: 1.25,
      renderCell: ({ row }) => (
        <Two first={<Typography noWrap>{row.email || "–"}</Typography>} second={<AddressWord of={row} />} />
      ),
    },
    {
      field: "stage",
      headerName: "Stage",
      width: 122,
      renderCell: ({ row }) => (
        <Pill tone={row.stage === "new" ? "quiet" : row.stage === "contacted" ? "tile" : "kelp"}>
          {STAGE_NAMES[row.stage]}
        </Pill>
      ),
    },
    {
      field: "owner",
      headerName: "Owner",
      width: 120,
      sortable: false,
      renderCell: ({ row }) => <Typography noWrap>{row.owner ?? "–"}</Typography>,
    },
    {
      field: "journey",
      headerName: "What goes on",
      flex: 1.15,
      sortable: false,
      renderCell: ({ row }) => (
        <Two
          first={<Typography noWrap>{row.sequence ?? "–"}</Typography>}
          second={journeyState(row, now, zone)}
        />
      ),
    },
  ];
}

export interface FoundColumn {
  code: string;
  name: string;
  gives: "text" | "link" | "number" | "picture";
}

/** What is worked out for a list, as a column of its table. */
export const foundColumn = ({ code, name, gives }: FoundColumn): GridColDef<ProspectRow> => ({
  field: `${FOUND}${code}`,
  headerName: name,
  flex: gives === "picture" ? 0.5 : 1.2,
  sortable: false,
  renderCell: ({ row }) => {
    const value = row.custom[code] ?? "";
    return gives === "picture" && value !== "" ? (
      <Box component="img" src={value} alt="" loading="lazy" sx={{ maxHeight: 30, maxWidth: 1 }} />
    ) : (
      <Typography noWrap title={value}>
        {value || "–"}
      </Typography>
    );
  },
});

function Two({ first, second }: { first: React.ReactNode; second: React.ReactNode }) {
  return (
    <Box sx={{ minWidth: 0, "& > *": { lineHeight: "16px" } }}>
      {first}
      <Typography
        noWrap
        variant="caption"
        color="textSecondary"
        component="div"
        sx={{ fontSize: 11.5, lineHeight: "14px" }}
      >
        {second}
      </Typography>
    </Box>
  );
}
