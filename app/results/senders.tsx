/** How those who send do, week by week, and which of them is no longer what it was. */
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { Link, useSearchParams } from "react-router";
import { percent } from "../../core/results/figure-words";
import { shareOf } from "../../core/results/share";
import { WEEKS_SHOWN } from "../../core/results/weeks";
import type { SenderLine, SendersBy } from "../../server/results/senders";
import { driftWords } from "./drift-words";
import { Figures, Note } from "./tables";
import { likely } from "./words";

const BY_WORDS: Record<SendersBy, string> = {
  mailbox: "Mailbox",
  domain: "Domain",
  provider: "Provider",
};

export function Senders(props: {
  lines: readonly SenderLine[];
  by: SendersBy;
  /** Though the look is narrowed to some of the people. */
  ofEverything: boolean;
}) {
  const { lines, by } = props;
  const [, setQuery] = useSearchParams();
  if (lines.length === 0) return <Note>Nothing was sent in the last {WEEKS_SHOWN} weeks.</Note>;
  const drifting = lines.filter(({ drift }) => drift !== null);
  return (
    <>
      <ToggleButtonGroup
        size="small"
        exclusive
        value={by}
        aria-label="By"
        onChange={(_, value: SendersBy | null) =>
          value &&
          setQuery((before) => {
            before.set("by", value);
            return before;
          })
        }
        sx={{ mb: 1.5 }}
      >
        {(Object.keys(BY_WORDS) as SendersBy[]).map((each) => (
          <ToggleButton key={each} value={each} sx={{ px: 1.5, py: 0.4, textTransform: "none" }}>
            {BY_WORDS[each]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {drifting.map(({ mailboxId, name, drift }) => (
        <Typography key={name} sx={{ mb: 1, borderLeft: "3px solid", borderColor: "clay.main", pl: 1.5 }}>
          {drift && driftWords(name || "the others", drift)}{" "}
          {mailboxId !== null && <Link to={`/sending/mailboxes/${mailboxId}`}>Open the mailbox</Link>}
        </Typography>
      ))}
      <Figures
        name="Senders"
        rows={lines}
        keyOf={({ name }) => name}
        columns={[
          {
            title: BY_WORDS[by],
            of: ({ mailboxId, name }) =>
              mailboxId === null ? (
                name || "Not known"
              ) : (
                <Link to={`/sending/mailboxes/${mailboxId}`}>{name}</Link>
              ),
          },
          { title: "Sent", of: ({ made }) => made.toLocaleString("en-GB") },
          { title: "Came back", of: ({ bounced, made }) => `${bounced} · ${percent(bounced, made)}` },
          { title: "Answered", of: ({ answered, made }) => `${answered} · ${percent(answered, made)}` },
          { title: "likely between", of: ({ answered, made }) => likely(shareOf(answered, made)) },
          { title: "By week", of: ({ weeks }) => <Weeks weeks={weeks} /> },
          {
            title: "Drifts",
            of: ({ drift }) =>
              drift === null ? "no" : drift.of === "bounced" ? "more comes back" : "fewer answer",
          },
        ]}
      />
      <Note>
        {props.ofEverything && "All that they sent, whoever the look is narrowed to. "}In {WEEKS_SHOWN} weeks.
        An email counts for the mailbox it went from, an answer for the email it answers. That one drifts is
        said when the weeks together leave no other explanation, not after one bad day.
      </Note>
    </>
  );
}

/** A bar for each week's share of answers. */
function Weeks({ weeks }: { weeks: SenderLine["weeks"] }) {
  const most = Math.max(0.01, ...weeks.map(({ made, answered }) => (made === 0 ? 0 : answered / made)));
  return (
    <svg
      width={weeks.length * 7}
      height={22}
      role="img"
      aria-label={weeks.map(({ made, answered }) => percent(answered, made)).join(", ")}
    >
      {weeks.map(({ day, made, answered }, nth) => {
        const height = made === 0 ? 1 : Math.max(1, (20 * answered) / made / most);
        return (
          <rect
            key={day}
            x={nth * 7}
            y={22 - height}
            width={5}
            height={height}
            fill={made === 0 ? "#E0D9CA" : "#2F7A5F"}
          />
        );
      })}
    </svg>
  );
}
