/** Whom the table shows: by words, list, stage and filter. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import type { Filter } from "../../core/prospects/filter";
import { STAGE_NAMES } from "../../core/prospects/stages";
import type { SavedFilter } from "../../server/prospects/filters/filters";
import { Choice } from "../components/choice";
import { SearchField } from "../components/search-field";
import type { FilterChoices } from "./filter-words";
import { filterSentence } from "./filter-words";
import { SavedFilters } from "./saved-filters";

export function SearchBar(props: {
  query: { q: string; list?: number | undefined; stage: string };
  filter: Filter | null;
  filters: SavedFilter[];
  choices: FilterChoices;
  lists: { id: number; name: string; count: number }[];
  change: (changes: Record<string, string | undefined>) => void;
  onFilter: () => void;
  children: React.ReactNode;
}) {
  const { query, filter, filters, choices, lists, change, onFilter, children } = props;
  return (
    <>
      <Box
        sx={{
          display: "flex",
          gap: 1.25,
          mb: 1.25,
          alignItems: "center",
          flexWrap: { xs: "wrap", md: "nowrap" },
        }}
      >
        <SearchField
          value={query.q}
          label="Search prospects"
          placeholder="Name, address or company"
          onSearch={(q) => change({ q })}
          sx={{ flex: 1, minWidth: 130 }}
        />
        <Choice
          label="List"
          value={query.list ?? ""}
          onChange={(chosen) => change({ list: String(chosen) })}
          sx={{ width: { xs: 120, md: 190 } }}
          options={[
            ["", "All lists"],
            ...lists.map(
              ({ id, name, count: people }) => [id, `${name} (${people.toLocaleString("en-GB")})`] as const,
            ),
          ]}
        />
        <Choice
          label="Stage"
          value={query.stage}
          onChange={(chosen) => change({ stage: chosen })}
          sx={{ width: 118 }}
          options={[["", "All stages"], ...Object.entries(STAGE_NAMES)]}
        />
        <Button onClick={onFilter}>Filter</Button>
        <SavedFilters filters={filters} onChoose={(f) => change({ f })} />
        {children}
      </Box>
      {(filter || query.q !== "") && (
        <Box sx={{ display: "flex", gap: 1, mb: 1.5 }}>
          {filter && (
            <Chip
              label={filterSentence(filter, choices)}
              onClick={onFilter}
              onDelete={() => change({ f: undefined })}
            />
          )}
          {query.q !== "" && <Chip label={`“${query.q}”`} onDelete={() => change({ q: undefined })} />}
        </Box>
      )}
    </>
  );
}
