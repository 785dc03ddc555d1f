/** The table of prospects: paged and sorted by the server, chosen across its pages, gone through by keyboard. */
import Box from "@mui/material/Box";
import type { Theme } from "@mui/material/styles";
import useMediaQuery from "@mui/material/useMediaQuery";
import { DataGrid, type GridRowSelectionModel, type GridSortModel } from "@mui/x-data-grid";
import { useMemo, useSyncExternalStore } from "react";
import { useNavigate } from "react-router";
import type { ProspectRow, ProspectsQuery } from "../../server/prospects/people/list-prospects";
import { type ColumnLayout, FOUND } from "./column-layout";
import { type FoundColumn, foundColumn, prospectColumns } from "./prospect-columns";

const SORTS: Record<string, string> = {
  name: "name",
  company: "company",
  stage: "stage",
  verdict: "verdict",
};
/** On a phone there is room for the name and the address. */
const WIDE_ONLY = ["company", "stage", "journey", "owner"];
export const NOBODY: GridRowSelectionModel = { type: "include", ids: new Set() };

export function ProspectGrid(props: {
  /** What is worked out for the list, which the layout may show. */
  found: readonly FoundColumn[];
  rows: ProspectRow[];
  total: number;
  query: ProspectsQuery;
  now: number;
  zone: string;
  loading: boolean;
  /** Whom the margin is about. */
  focused: number | null;
  onFocus: (id: number) => void;
  selection: GridRowSelectionModel;
  onSelect: (selection: GridRowSelectionModel) => void;
  /** Which columns are hidden, and how wide the others were drawn. */
  layout: ColumnLayout;
  onLayout: (layout: ColumnLayout) => void;
  /** Changes the page's address; what is undefined goes from it. */
  change: (changes: Record<string, string | undefined>) => void;
}) {
  const { query, now, zone, focused, change } = props;
  const navigate = useNavigate();
  const { layout, onLayout, found } = props;
  // By what it holds: a look at the page makes another array of the same columns.
  const asked = JSON.stringify(found.filter(({ code }) => layout.shown.includes(FOUND + code)));
  const isNarrow = useMediaQuery((theme: Theme) => theme.breakpoints.down("sm"));
  const columns = useMemo(
    () =>
      [...prospectColumns(now, zone), ...(JSON.parse(asked) as FoundColumn[]).map(foundColumn)].map(
        (column) => {
          const width = layout.widths[column.field];
          return width === undefined ? column : { ...column, width, flex: 0 };
        },
      ),
    [now, zone, asked, layout.widths],
  );
  // The grid takes another array for another sort, and goes back to the first page.
  const sortModel = useMemo<GridSortModel>(
    () => (query.sort === "added" ? [] : [{ field: query.sort, sort: query.dir }]),
    [query.sort, query.dir],
  );
  const isBrowser = useSyncExternalStore(
    () => () => {},
    () => true,
    () => false,
  );
  return (
    // The grid draws itself only in the browser; its place is kept from the beginning.
    <Box sx={{ display: "grid", minHeight: 0 }}>
      {isBrowser && (
        <DataGrid
          rows={props.rows}
          columns={columns}
          rowCount={props.total}
          loading={props.loading}
          rowHeight={36}
          columnHeaderHeight={34}
          paginationMode="server"
          sortingMode="server"
          filterMode="server"
          disableColumnMenu
          hideFooterSelectedRowCount
          checkboxSelection
          keepNonExistentRowsSelected
          disableRowSelectionOnClick
          disableRowSelectionExcludeModel
          paginationModel={{ page: query.page, pageSize: query.size }}
          pageSizeOptions={[25, 50, 100]}
          onPaginationModelChange={({ page, pageSize }) =>
            change({ page: String(page), size: String(pageSize) })
          }
          columnVisibilityModel={Object.fromEntries(
            [...layout.hidden, ...(isNarrow ? WIDE_ONLY : [])].map((field) => [field, false]),
          )}
          onColumnWidthChange={({ colDef, width }) =>
            onLayout({ ...layout, widths: { ...layout.widths, [colDef.field]: Math.round(width) } })
          }
          sortModel={sortModel}
          onSortModelChange={([sort]) =>
            change({ sort: SORTS[sort?.field ?? ""], dir: sort?.sort ?? undefined, page: undefined })
          }
          rowSelectionModel={props.selection}
          onRowSelectionModelChange={props.onSelect}
          getRowClassName={({ id }) => (id === focused ? "focused" : "")}
          slotProps={{
            row: { onFocus: ({ currentTarget }) => props.onFocus(Number(currentTarget.dataset.id)) },
          }}
          onRowClick={({ id }) => props.onFocus(Number(id))}
          onRowDoubleClick={({ id }) => navigate(`/prospects/${id}`)}
          onCellKeyDown={(cell, event) => {
            if (event.key === "Enter") navigate(`/prospects/${cell.id}`);
          }}
          localeText={{ noRowsLabel: "Nobody matches. Change the search, the list or the filter." }}
          sx={{
            bgcolor: "background.paper",
            "& .MuiDataGrid-cell": { display: "flex", alignItems: "center" },
            // The ring is round what has the keyboard: the cell or the link in it.
            "& .MuiDataGrid-cell:focus-within:not(:focus)": { outline: "none" },
            // Whom the margin is about, and who is chosen.
            "& .focused, & .Mui-selected, & .Mui-selected:hover": { bgcolor: "tile.wash" },
            "& .focused": { boxShadow: "inset 3px 0 0 var(--mui-palette-tile-main)" },
            "& .MuiDataGrid-footerContainer, & .MuiTablePagination-toolbar": { minHeight: 38 },
            "& .MuiTablePagination-root": { overflow: "hidden" },
          }}
        />
      )}
    </Box>
  );
}
