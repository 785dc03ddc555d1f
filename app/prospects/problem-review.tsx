/** What is wrong with the rows of a file, alike ones together: those that are left out, and those worth a look. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { RowProblem } from "../../core/prospects/rows";
import type { ProblemGroup } from "../../server/prospects/imports/imports";
import { count } from "../components/words";

/** What the rows of a group have in common, after their number, and what to do about it. */
const PROBLEM_WORDS: Record<RowProblem, [one: string, many: string, todo: string]> = {
  damaged: ["cannot be read", "cannot be read", "Set the quotation marks right on these lines."],
  broken_address: ["has no working address", "have no working address", "Correct the addresses."],
  nobody: [
    "names nobody who could be found",
    "name nobody who could be found",
    "Give them an address, or a last name and a company.",
  ],
  long_value: [
    "has a value as long as a page",
    "have a value as long as a page",
    "A quotation mark went astray there.",
  ],
  repeated: ["repeats an earlier one", "repeat earlier ones", "Nothing to do: the first of them is taken."],
  shared_address: [
    "is somebody with another's address",
    "are people with another's address",
    "One address is one person's. Give them their own, or leave it so.",
  ],
  erased: ["is somebody who was erased", "are people who were erased", "They asked not to be kept again."],
  several_addresses: [
    "holds several addresses",
    "hold several addresses",
    "One is taken; the others are kept in a field of the list.",
  ],
  not_a_name: [
    "has no name where one should be",
    "have no name where one should be",
    "They are added without.",
  ],
  doubtful_name: ["has an odd name", "have an odd name", "Look at them before somebody is greeted so."],
  other_name: [
    "is known under another name",
    "are known under another name",
    "The person whom you know stays as they are, unless you choose to replace names below.",
  ],
  look_alikes: [
    "has letters of two alphabets",
    "have letters of two alphabets",
    "Make sure that they are real.",
  ],
  no_address: ["has no address", "have no address", "They are added; addresses are looked for afterwards."],
  surplus_cells: [
    "has more cells than columns",
    "have more cells than columns",
    "What stands too far right is left out.",
  ],
  missing_cells: [
    "is shorter than the columns",
    "are shorter than the columns",
    "What is missing counts as empty.",
  ],
  formula: ["holds a formula", "hold a formula", "It is kept as text."],
  opted_out: [
    "says that they want no mail",
    "say that they want no mail",
    "They are added and blocked: nothing is ever sent to them.",
  ],
  bad_address: [
    "says that the address came back",
    "say that the address came back",
    "The address is blocked: nothing is sent there.",
  ],
  shared_domain: [
    "names another company at a domain",
    "name other companies at a domain",
    "Each keeps the name that the file gives it, and is a company of its own.",
  ],
  cut_off: ["is cut off", "are cut off", "The file may end too early: export it again."],
};

export function ProblemReview(props: { problems: ProblemGroup[]; importId: number; hasFile: boolean }) {
  const leftOut = props.problems.filter(({ isLeftOut }) => isLeftOut);
  const toSee = props.problems.filter(({ isLeftOut }) => !isLeftOut);
  const rows = (groups: ProblemGroup[]) => groups.reduce((sum, group) => sum + group.count, 0);
  return (
    <>
      {leftOut.length > 0 && (
        <Box component="section" sx={{ mb: 3 }}>
          <Box sx={{ display: "flex", alignItems: "baseline", justifyContent: "space-between", gap: 2 }}>
            <Typography variant="h2">{count(rows(leftOut), "row is", "rows are")} left out</Typography>
            {props.hasFile && (
              <Button size="small" href={`/prospects/imports/${props.importId}/left-out`} download>
                Download them to correct
              </Button>
            )}
          </Box>
          <Groups groups={leftOut} />
        </Box>
      )}
      {toSee.length > 0 && (
        <Box component="section" sx={{ mb: 3 }}>
          <Typography variant="h2">Worth a look</Typography>
          <Groups groups={toSee} />
        </Box>
      )}
    </>
  );
}

function Groups({ groups }: { groups: ProblemGroup[] }) {
  return groups.map(({ problem, count: rows, examples }) => {
    const [one, many, todo] = PROBLEM_WORDS[problem];
    return (
      <Box
        key={problem}
        component="details"
        sx={{
          borderTop: "1px solid",
          borderColor: "divider",
          py: 0.8,
          "& > summary": { cursor: "pointer", listStylePosition: "outside", ml: 2 },
        }}
      >
        <summary>
          <Typography component="span" sx={{ fontWeight: 600 }}>
            {count(rows, `row ${one}`, `rows ${many}`)}
          </Typography>{" "}
          <Typography component="span" color="textSecondary">
            {todo}
          </Typography>
        </summary>
        <Box component="ul" sx={{ listStyle: "none", m: 0, mt: 0.5, pl: 2 }}>
          {examples.map(({ line, words }) => (
            <Box component="li" key={`${line} ${words}`} sx={{ display: "flex", gap: 2, py: 0.3 }}>
              <Typography variant="body2" sx={{ width: 76, flexShrink: 0 }} color="textSecondary">
                Line {line}
              </Typography>
              <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
                {words}
              </Typography>
            </Box>
          ))}
          {rows > examples.length && (
            <Typography variant="body2" component="li" color="textSecondary">
              and {(rows - examples.length).toLocaleString("en-GB")} more
            </Typography>
          )}
        </Box>
      </Box>
    );
  });
}
