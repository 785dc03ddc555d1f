/** Mailboxes by days: sent, planned and the limit in every cell. A cell opens its touches in the margin. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Outlook } from "../../core/sending/outlook";
import type { MailboxStanding } from "../../server/sending/forecast";
import { Pill } from "../components/pill";
import { day, shortDay } from "../components/words";

export function MailboxGrid(props: {
  mailboxes: MailboxStanding[];
  plan: Outlook;
  zone: string;
  /** Which cell is open, as "mailbox day". */
  open: string | null;
}) {
  const { mailboxes, plan, zone, open } = props;
  return (
    // Wider than a telephone: it scrolls by itself.
    <Box sx={{ overflowX: "auto" }}>
      <Box
        component="table"
        sx={{ width: 1, minWidth: 620, borderCollapse: "collapse", tableLayout: "fixed" }}
      >
        <thead>
          <tr>
            <Box component="th" scope="col" sx={{ width: 226, textAlign: "left", fontWeight: 400 }}>
              <Typography variant="caption" color="textSecondary">
                Mailbox
              </Typography>
            </Box>
            {plan.days.map((localDay) => (
              <Box
                component="th"
                scope="col"
                key={localDay}
                sx={{ fontWeight: 400, fontSize: 12, color: "text.secondary", pb: 0.75 }}
              >
                {shortDay(localDay)}
              </Box>
            ))}
          </tr>
        </thead>
        <tbody>
          {mailboxes.map((mailbox) => (
            <Box
              component="tr"
              key={mailbox.id}
              sx={{ "& td, & th": { borderTop: "1px solid", borderColor: "divider", py: 0.6 } }}
            >
              <Box component="th" scope="row" sx={{ textAlign: "left", fontWeight: 400, pr: 1 }}>
                <Typography
                  noWrap
                  component={Link}
                  to={`/sending/mailboxes/${mailbox.id}`}
                  title={mailbox.address}
                  sx={{
                    display: "block",
                    color: "inherit",
                    fontWeight: 600,
                    fontSize: 13,
                    textDecoration: "none",
                  }}
                >
                  {mailbox.address}
                </Typography>
                <Typography variant="caption" color="textSecondary" component="div" noWrap>
                  {stateWords(mailbox, zone)}
                </Typography>
              </Box>
              {plan.days.map((localDay, nth) => (
                <td key={localDay}>
                  <Cell
                    mailbox={mailbox}
                    localDay={localDay}
                    sent={nth === 0 ? mailbox.sentToday : 0}
                    planned={plan.cells[mailbox.id]?.[nth]?.planned ?? 0}
                    limit={plan.cells[mailbox.id]?.[nth]?.limit ?? 0}
                    isOpen={open === `${mailbox.id} ${localDay}`}
                  />
                </td>
              ))}
            </Box>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}

function stateWords(mailbox: MailboxStanding, zone: string): React.ReactNode {
  if (mailbox.state === "resting")
    return <Pill tone="clay">rests{mailbox.restUntil ? ` until ${day(mailbox.restUntil, zone)}` : ""}</Pill>;
  if (mailbox.state === "paused") return <Pill tone="ochre">paused</Pill>;
  if (mailbox.isStopped) return <Pill tone="clay">stopped: look at it</Pill>;
  if (mailbox.trouble) return <Pill tone="clay">cannot be reached</Pill>;
  if (mailbox.isNew) return <Pill tone="ochre">has not connected yet</Pill>;
  return mailbox.isRising
    ? `${mailbox.limit} a day, rising to ${mailbox.dailyLimit}`
    : `${mailbox.limit} a day`;
}

function Cell(props: {
  mailbox: MailboxStanding;
  localDay: string;
  sent: number;
  planned: number;
  limit: number;
  isOpen: boolean;
}) {
  const { mailbox, localDay, sent, planned, limit, isOpen } = props;
  const emails = sent + planned;
  const share = (number: number) => (limit === 0 ? 0 : Math.min(1, number / limit));
  const words = `${shortDay(localDay)}: ${sent > 0 ? `${sent} sent, ` : ""}${planned} planned, at most ${limit}`;
  return (
    <Box
      component={Link}
      to={isOpen ? "/sending" : `/sending?mailbox=${mailbox.id}&day=${localDay}`}
      preventScrollReset
      aria-label={`${mailbox.address}, ${words}`}
      aria-current={isOpen ? "true" : undefined}
      title={words}
      sx={{
        position: "relative",
        height: 34,
        mx: "2px",
        borderRadius: 0.5,
        bgcolor: "tile.wash",
        overflow: "hidden",
        display: "grid",
        placeItems: "center",
        textDecoration: "none",
        color: "text.primary",
        outline: isOpen ? "2px solid" : "none",
        outlineColor: "tile.main",
        ...(limit === 0 && {
          background: ({ palette }) =>
            `repeating-linear-gradient(-45deg, ${palette.margin} 0 6px, transparent 6px 12px)`,
        }),
      }}
    >
      <Box
        sx={{
          position: "absolute",
          inset: `${100 - share(emails) * 100}% 0 0 0`,
          bgcolor: "tile.line",
          opacity: 0.75,
        }}
      />
      {sent > 0 && (
        <Box
          sx={{
            position: "absolute",
            left: 0,
            right: 0,
            bottom: 0,
            height: `${share(sent) * 100}%`,
            bgcolor: "tile.main",
          }}
        />
      )}
      <Box
        component="span"
        sx={{
          position: "relative",
          fontSize: 13,
          fontWeight: 600,
          // Over the part that is sent the figure is read in white.
          color: share(sent) > 0.55 ? "common.white" : "inherit",
        }}
      >
        {emails > 0 ? emails : ""}
      </Box>
    </Box>
  );
}
