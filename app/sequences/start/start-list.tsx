/** The people before a start, those with a problem first. */
import Box from "@mui/material/Box";
import MuiLink from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { ADDRESS_WORDS } from "../../../core/prospects/verdict";
import type { StartPerson } from "../../../server/sequences/start-check";
import { Pager } from "../../components/pager";
import { Pill } from "../../components/pill";
import { WORDS } from "./standing-words";
import type { StartData } from "./start-data";
import type { StartDesk } from "./use-start";

export function StartList({ data, at }: { data: StartData; at: StartDesk }) {
  const { people, personId } = data;
  const { leaveOut, choose, listed } = at;
  return (
    <Box>
      <Box sx={{ display: "flex", mb: 0.5 }}>
        <Typography variant="label" color="textSecondary" component="h2" sx={{ flex: 1 }}>
          {data.standing ? WORDS[data.standing].waits : "As each one reads it"}
        </Typography>
        {data.standing ? (
          <MuiLink component={Link} to="?" variant="body2">
            Everybody
          </MuiLink>
        ) : (
          <Typography variant="body2" color="textSecondary">
            problems first
          </Typography>
        )}
      </Box>
      <Box
        component="ul"
        aria-label="People"
        sx={{
          listStyle: "none",
          m: 0,
          p: 0,
          maxHeight: { xs: 220, sm: "none" },
          overflowY: { xs: "auto", sm: "visible" },
        }}
      >
        {people.map((person) => (
          <PersonRow
            key={person.id}
            person={person}
            selected={person.id === personId}
            isLeftOut={leaveOut.has(person.id)}
            onSelect={() => choose({ person: String(person.id) })}
          />
        ))}
        {people.length === 0 && (
          <Typography color="textSecondary" component="li">
            {data.listId === null ? (
              <Link to={`/sequences/${data.id}?show=settings`}>Choose a list first</Link>
            ) : (
              "Nobody here."
            )}
          </Typography>
        )}
      </Box>
      <Pager page={data.page} pageSize={data.pageSize} total={listed} />
    </Box>
  );
}

function PersonRow(props: {
  person: StartPerson;
  selected: boolean;
  isLeftOut: boolean;
  onSelect: () => void;
}) {
  const { person, selected, isLeftOut } = props;
  const words = WORDS[person.standing];
  const [tone, pill] = isLeftOut
    ? (["quiet", "left out by you"] as const)
    : person.standing !== "ready"
      ? ([
          words.tone,
          person.standing === "address_not_good" ? ADDRESS_WORDS[person.address] : words.pill,
        ] as const)
      : person.isApproved === 1
        ? (["kelp", "you said yes"] as const)
        : person.isOwn === 1
          ? (["kelp", "yours, edited"] as const)
          : (["tile", ""] as const);
  return (
    <Box component="li">
      <Box
        component="button"
        type="button"
        aria-pressed={selected}
        onClick={props.onSelect}
        sx={{
          all: "unset",
          boxSizing: "border-box",
          width: "100%",
          cursor: "pointer",
          display: "flex",
          alignItems: "center",
          gap: 1,
          px: 1.5,
          py: 0.75,
          borderLeft: "3px solid",
          borderColor: selected ? "tile.main" : "transparent",
          ...(selected && { bgcolor: "background.paper" }),
          "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
        }}
      >
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography noWrap sx={{ fontWeight: 600, ...(isLeftOut && { textDecoration: "line-through" }) }}>
            {person.name}
          </Typography>
          <Typography variant="caption" color="textSecondary" component="div" noWrap>
            {person.company}
          </Typography>
        </Box>
        {pill !== "" && <Pill tone={tone}>{pill}</Pill>}
      </Box>
    </Box>
  );
}
