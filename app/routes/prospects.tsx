import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { DataGrid, type GridColDef, type GridSortModel } from "@mui/x-data-grid";
import { useMemo, useState } from "react";
import { Link, useNavigate, useNavigation, useSearchParams } from "react-router";
import { webApp } from "../../server/app";
import {
  allLists,
  listProspects,
  type ProspectRow,
  prospectsQuery,
} from "../../server/prospects/list-prospects";
import { Empty, MarginNote, Page } from "../components/page";
import { Pill } from "../components/pill";
import { count, STAGE_NAMES, STOP_WORDS, waitSentence, when } from "../components/words";
import { userContext } from "../session";
import type { Route } from "./+types/prospects";

export function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const query = prospectsQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
  return {
    query,
    ...listProspects(app, query),
    lists: allLists(app),
    zone: context.get(userContext).zone,
    now: app.clock.now(),
  };
}

/** In a few words; the margin gives the reason. */
function journeyState(row: ProspectRow, now: number, zone: string): string {
  if (row.blocked) return "on the block list";
  if (!row.sequence) return "not written to yet";
  if (row.journeyState === "stopped") return `stopped: ${STOP_WORDS[row.stopReason ?? ""] ?? ""}`;
  if (row.journeyState === "finished") return "got every step";
  return row.nextAt === null ? "waits" : `next ${when(row.nextAt, now, zone)}`;
}

function journeyWords(row: ProspectRow, now: number, zone: string): string {
  if (row.blocked) return "On the block list";
  if (!row.sequence) return "Not written to yet";
  if (row.journeyState === "stopped")
    return `${row.sequence}: stopped, ${STOP_WORDS[row.stopReason ?? ""] ?? ""}`;
  if (row.journeyState === "finished") return `${row.sequence}: finished`;
  return `${row.sequence}: ${waitSentence(row.waitReason ?? "in_line", null, row.nextAt, now, zone)}`;
}

const SORTS: Record<string, string> = { name: "name", company: "company", stage: "stage" };

export default function Prospects({ loaderData }: Route.ComponentProps) {
  const { query, rows, total, lists, zone, now } = loaderData;
  const [params, setParams] = useSearchParams();
  const [selected, setSelected] = useState<number | null>(null);
  const navigate = useNavigate();
  const loading = useNavigation().state === "loading";
  const list = lists.find(({ id }) => id === query.list);
  const isFiltered = query.q !== "" || query.list !== undefined || query.stage !== "";

  const change = (changes: Record<string, string | undefined>) =>
    setParams((before) => {
      const next = new URLSearchParams(before);
      for (const [name, value] of Object.entries(changes))
        if (value === undefined || value === "") next.delete(name);
        else next.set(name, value);
      return next;
    });

  // The grid takes another array for another sort, and goes back to the first page.
  const sortModel = useMemo<GridSortModel>(
    () => (query.sort === "added" ? [] : [{ field: query.sort, sort: query.dir }]),
    [query.sort, query.dir],
  );
  const columns: GridColDef<ProspectRow>[] = [
    {
      field: "name",
      headerName: "Name",
      flex: 1.1,
      renderCell: ({ row }) => (
        <Box sx={{ lineHeight: 1.35, py: 0.9, minWidth: 0 }}>
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
            {row.name || row.email}
          </Typography>
          <Typography noWrap variant="caption" color="textSecondary" component="div">
            {row.email}
          </Typography>
        </Box>
      ),
    },
    {
      field: "company",
      headerName: "Company",
      flex: 1,
      renderCell: ({ row }) => (
        <Box sx={{ lineHeight: 1.35, py: 0.9, minWidth: 0 }}>
          <Typography noWrap>{row.company}</Typography>
          <Typography noWrap variant="caption" color="textSecondary" component="div">
            {[row.title, row.city].filter(Boolean).join(", ")}
          </Typography>
        </Box>
      ),
    },
    {
      field: "stage",
      headerName: "Stage",
      width: 140,
      renderCell: ({ row }) => (
        <Pill tone={row.stage === "new" ? "quiet" : row.stage === "contacted" ? "tile" : "kelp"}>
          {STAGE_NAMES[row.stage]}
        </Pill>
      ),
    },
    {
      field: "journey",
      headerName: "What goes on",
      flex: 1.3,
      sortable: false,
      renderCell: ({ row }) => (
        <Box sx={{ lineHeight: 1.35, py: 0.9, minWidth: 0 }}>
          <Typography noWrap>{row.sequence ?? "–"}</Typography>
          <Typography noWrap variant="caption" color="textSecondary" component="div">
            {journeyState(row, now, zone)}
          </Typography>
        </Box>
      ),
    },
  ];
  const chosen = rows.find(({ id }) => id === selected);
  return (
    <Page
      heading={
        total === 0 && !isFiltered
          ? "Nobody to write to yet"
          : `${total.toLocaleString("en-GB")} ${total === 1 ? "person" : "people"} ${list ? `on “${list.name}”` : isFiltered ? "match" : "on your lists"}`
      }
      actions={
        <Button variant="contained" component={Link} to="/prospects/import">
          Import from CSV
        </Button>
      }
      margin={<ProspectMargin row={chosen} now={now} zone={zone} lists={lists.length} />}
    >
      {total === 0 && !isFiltered ? (
        <Empty
          title="Begin with a list"
          text="Export the people you want to write to from wherever they are, as CSV with a line of column names on top. Only the address is needed."
          action={
            <Button variant="contained" component={Link} to="/prospects/import">
              Import from CSV
            </Button>
          }
        />
      ) : (
        <>
          <Box sx={{ display: "flex", gap: 1.5, mb: 1.5 }}>
            <Box
              component="form"
              sx={{ flex: 1 }}
              onSubmit={(event) => {
                event.preventDefault();
                change({ q: String(new FormData(event.currentTarget).get("q") ?? ""), page: undefined });
              }}
            >
              <TextField
                key={query.q}
                name="q"
                defaultValue={query.q}
                placeholder="Name, address or company"
                slotProps={{ htmlInput: { "aria-label": "Search prospects" } }}
              />
            </Box>
            <TextField
              select
              label="List"
              value={query.list ?? ""}
              onChange={(event) => change({ list: event.target.value, page: undefined })}
              sx={{ width: 260 }}
            >
              <MenuItem value="">All lists</MenuItem>
              {lists.map(({ id, name, count: people }) => (
                <MenuItem key={id} value={id}>
                  {name} ({people})
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Stage"
              value={query.stage}
              onChange={(event) => change({ stage: event.target.value, page: undefined })}
              sx={{ width: 150 }}
            >
              <MenuItem value="">All stages</MenuItem>
              {Object.entries(STAGE_NAMES).map(([stage, name]) => (
                <MenuItem key={stage} value={stage}>
                  {name}
                </MenuItem>
              ))}
            </TextField>
          </Box>
          <DataGrid
            rows={rows}
            columns={columns}
            rowCount={total}
            loading={loading}
            rowHeight={54}
            columnHeaderHeight={40}
            paginationMode="server"
            sortingMode="server"
            filterMode="server"
            disableColumnMenu
            paginationModel={{ page: query.page, pageSize: query.size }}
            pageSizeOptions={[25, 50, 100]}
            onPaginationModelChange={({ page, pageSize }) =>
              change({ page: String(page), size: String(pageSize) })
            }
            sortModel={sortModel}
            onSortModelChange={([sort]) =>
              change({ sort: SORTS[sort?.field ?? ""], dir: sort?.sort ?? undefined, page: undefined })
            }
            rowSelectionModel={{ type: "include", ids: new Set(selected === null ? [] : [selected]) }}
            onRowClick={({ id }) => setSelected(Number(id))}
            onRowDoubleClick={({ id }) => navigate(`/prospects/${id}`)}
            onCellKeyDown={(cell, event) => {
              if (event.key === "Enter") navigate(`/prospects/${cell.id}`);
            }}
            localeText={{ noRowsLabel: "Nobody matches. Change the search, the list or the stage." }}
            sx={{
              bgcolor: "background.paper",
              height: "calc(100dvh - 262px)",
              "& .MuiDataGrid-cell": { display: "flex", alignItems: "center" },
            }}
          />
          {params.has("q") && (
            <Button variant="text" onClick={() => change({ q: undefined })} sx={{ mt: 1 }}>
              Clear the search
            </Button>
          )}
        </>
      )}
    </Page>
  );
}

function ProspectMargin({
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
          Choose a row to see where somebody stands. Their name opens their page. {count(lists, "list")} so
          far.
        </Typography>
      </MarginNote>
    );
  return (
    <>
      <MarginNote title="Chosen">
        <Typography variant="letter">{row.name || row.email}</Typography>
        <Typography color="textSecondary">{[row.title, row.company].filter(Boolean).join(", ")}</Typography>
      </MarginNote>
      <MarginNote title="Where they stand, and why">
        <Typography>{journeyWords(row, now, zone)}.</Typography>
      </MarginNote>
    </>
  );
}
