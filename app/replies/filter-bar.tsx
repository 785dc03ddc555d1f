/** Which letters the list shows: a kind, a label, what is looked for, and whose. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useNavigate } from "react-router";
import type { Desk } from "../../server/desk/reading-desk";
import type { ReplyFilter } from "../../server/replies/list-replies";
import { PlainSelect } from "../components/plain-select";
import { SearchField } from "../components/search-field";

export const FILTERS: [ReplyFilter, string][] = [
  ["unread", "To read"],
  ["people", "From people"],
  ["automatic", "Automatic"],
  ["bounces", "Came back"],
];

export function FilterBar({ desk }: { desk: Desk }) {
  const { filter, label, search, counts, labels, labelCounts } = desk;
  const navigate = useNavigate();
  const pageWith = (choices: Record<string, string>) => {
    const next = new URLSearchParams(choices);
    return `/replies${next.size > 0 ? `?${next}` : ""}`;
  };
  return (
    <Box sx={{ display: "flex", gap: 1, mb: 1.5, flexWrap: "wrap", alignItems: "center" }}>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }} role="tablist" aria-label="Kinds of replies">
        {FILTERS.map(([name, words]) => (
          <Button
            key={name}
            role="tab"
            aria-selected={name === filter && label === "" && search === ""}
            size="small"
            variant={name === filter && label === "" && search === "" ? "contained" : "outlined"}
            onClick={() => navigate(pageWith(name === "unread" ? {} : { show: name }))}
          >
            {words} {counts[name]}
          </Button>
        ))}
      </Box>
      <PlainSelect
        aria-label="By label"
        value={label}
        onChange={(chosen) => navigate(pageWith(chosen === "" ? {} : { label: chosen }))}
        options={[
          ["", "By label"],
          ...labels.map(({ code, name }) => [code, `${name} ${labelCounts[code] ?? 0}`] as const),
        ]}
        sx={{ width: 128, "& select": { py: 0.6 } }}
      />
      <SearchField
        value={search}
        label="Search all messages"
        placeholder="Search all messages"
        onSearch={(q) => navigate(pageWith(q === "" ? {} : { q }), { replace: true })}
        sx={{ flex: "1 1 170px", minWidth: 0 }}
      />
    </Box>
  );
}
