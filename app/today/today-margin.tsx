/** What goes out by itself today, what was done by hand, and how the week stands. */
import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { STAGE_NAMES } from "../../core/prospects/stages";
import type { daySoFar } from "../../server/today/day-so-far";
import type { Today } from "../../server/today/today";
import { MarginNote } from "../components/page";
import { count } from "../components/words";

export function TodayMargin({ data }: { data: Today & { soFar: ReturnType<typeof daySoFar> } }) {
  const { mailboxes, toGo, week, soFar } = data;
  const sent = mailboxes.reduce((sum, each) => sum + each.sent, 0);
  return (
    <>
      <MarginNote title="Going out today">
        <Typography component="p" sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 2 }}>
          <Typography component="span" variant="letter" sx={{ fontSize: 38, lineHeight: 1 }}>
            {sent + toGo}
          </Typography>
          <Typography component="span" variant="letter" color="textSecondary">
            {sent + toGo === 1 ? "email" : "emails"}, {sent} of them sent
          </Typography>
        </Typography>
        {mailboxes.map(({ id, address, sent: own, limit, state }) => (
          <Box key={id} sx={{ mb: 1.4 }}>
            <Box sx={{ display: "flex", justifyContent: "space-between", gap: 1, fontSize: 12.5, mb: 0.4 }}>
              <Box
                component="span"
                sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}
                title={address}
              >
                {address}
              </Box>
              <Box component="span" sx={{ fontWeight: 650, whiteSpace: "nowrap" }}>
                {state === "active" ? `${own}/${limit}` : state === "resting" ? "rests" : "paused"}
              </Box>
            </Box>
            <LinearProgress
              variant="determinate"
              value={Math.min(100, (100 * own) / limit)}
              aria-label={`${address}: ${own} of ${limit} sent today`}
              sx={{ height: 5, borderRadius: 3, bgcolor: "divider" }}
            />
          </Box>
        ))}
        {mailboxes.length === 0 && <Typography variant="body2">No mailbox yet.</Typography>}
      </MarginNote>
      <MarginNote title="Your day so far">
        <Typography>
          {[
            soFar.read > 0 ? `${count(soFar.read, "reply", "replies")} labelled` : "",
            soFar.touches > 0 ? `${count(soFar.touches, "touch", "touches")} done` : "",
            soFar.calls > 0 ? `${count(soFar.calls, "call")} among them` : "",
            soFar.booked > 0 ? `${count(soFar.booked, "call")} booked` : "",
          ]
            .filter(Boolean)
            .join(", ") || "Nothing done by hand yet."}
        </Typography>
        {soFar.moved.map(({ name, stage }) => (
          <Typography key={name + stage} variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
            {name} is now: {(STAGE_NAMES[stage] ?? stage).toLowerCase()}
          </Typography>
        ))}
      </MarginNote>
      <MarginNote title="This week so far">
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", rowGap: 1.5 }}>
          {(
            [
              [week.sent, "sent"],
              [week.answered, "answered"],
              [week.positive, week.positive === 1 ? "wants to talk" : "want to talk"],
              [week.booked, week.booked === 1 ? "call booked" : "calls booked"],
              [week.optedOut, "opted out"],
            ] as const
          ).map(([number, words]) => (
            <Box key={words}>
              <Typography variant="letter" sx={{ fontSize: 27, lineHeight: 1.15 }}>
                {number}
              </Typography>
              <Typography variant="body2" color="textSecondary">
                {words}
              </Typography>
            </Box>
          ))}
        </Box>
        <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 1.5 }}>
          Since Monday, people but for what was sent: as <Link to="/results/report">the week’s report</Link>{" "}
          counts them.
        </Typography>
      </MarginNote>
    </>
  );
}
