import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { MarginNote } from "../components/page";
import { count, day, restWords, shortDay, time, WAIT_WORDS, when } from "../components/words";
import { REPAIRS } from "./repairs";
import type { Route } from "./routes/+types/sending";

type Data = Route.ComponentProps["loaderData"];

export function SendingMargin(data: Data) {
  return (
    <>
      {data.cell && <OpenCell {...data} cell={data.cell} />}
      <NotToday {...data} />
      <Health {...data} />
    </>
  );
}

/** What one mailbox sends on one day. */
function OpenCell({ cell, mailboxes, plan, zone }: Data & { cell: NonNullable<Data["cell"]> }) {
  const nth = plan.days.indexOf(cell.day);
  const numbers = plan.cells[cell.mailboxId]?.[nth];
  const address = mailboxes.find(({ id }) => id === cell.mailboxId)?.address ?? "This mailbox";
  const later = Math.max(
    0,
    (numbers?.planned ?? 0) - cell.touches.filter(({ state }) => state === "planned").length,
  );
  return (
    <MarginNote title={`${address} on ${shortDay(cell.day)}`}>
      {numbers && (
        <Typography sx={{ mb: 1 }}>
          {numbers.limit === 0
            ? "It does not send that day."
            : `${numbers.planned} planned, at most ${numbers.limit}.`}
        </Typography>
      )}
      {cell.touches.map((touch) => (
        <Box
          key={`${touch.prospectId} ${touch.at}`}
          sx={{ display: "grid", gridTemplateColumns: "46px 1fr", mb: 0.5 }}
        >
          <Box component="span" sx={{ fontWeight: touch.state === "sent" ? 400 : 650 }}>
            {time(touch.at, zone)}
          </Box>
          <Box sx={{ minWidth: 0 }}>
            <Typography
              noWrap
              component={Link}
              to={`/prospects/${touch.prospectId}`}
              sx={{ display: "block" }}
            >
              {touch.name}
            </Typography>
            <Typography noWrap variant="caption" color="textSecondary" component="div">
              {touch.state === "sent" ? "sent" : "to go"} · {touch.sequenceName}
            </Typography>
          </Box>
        </Box>
      ))}
      {later > 0 && (
        <Typography variant="body2" color="textSecondary">
          {count(later, "more is", "more are")} a forecast: who they are is fixed one working day ahead.
        </Typography>
      )}
    </MarginNote>
  );
}

/** Soonest to go on first; each line opens its people. */
function NotToday({ reasons, reason, zone, now }: Data) {
  return (
    <MarginNote title="Not going out today, and why">
      {reasons.length === 0 && <Typography>Everybody who is due today goes today.</Typography>}
      {reasons.map((each) => {
        const repair = REPAIRS[each.reason];
        return (
          <Box
            key={each.reason}
            sx={{ display: "grid", gridTemplateColumns: "44px 1fr", gap: 1.25, mb: 1.1 }}
          >
            <Box component="span" sx={{ fontWeight: 650, textAlign: "right" }}>
              {each.count.toLocaleString("en-GB")}
            </Box>
            <Box component="span" sx={{ "& a": { display: "inline-block", lineHeight: "24px" } }}>
              <Link
                to={each.reason === reason ? "/sending" : `/sending?reason=${each.reason}`}
                aria-current={each.reason === reason ? "true" : undefined}
              >
                {WAIT_WORDS[each.reason]}
              </Link>
              {each.nextAt !== null && each.nextAt > now && (
                <Typography
                  variant="caption"
                  color="textSecondary"
                  component="span"
                  sx={{ display: "block" }}
                >
                  the first goes on {when(each.nextAt, now, zone)}
                </Typography>
              )}
              {repair && (
                <Typography variant="caption" component="span" sx={{ display: "block" }}>
                  → <Link to={repair.to}>{repair.words}</Link>
                </Typography>
              )}
            </Box>
          </Box>
        );
      })}
    </MarginNote>
  );
}

const percent = (part: number, whole: number): string =>
  whole === 0 ? "0 %" : `${((100 * part) / whole).toFixed(1)} %`;

function Health({ mailboxes, health, domains, zone }: Data) {
  if (mailboxes.length === 0) return null;
  const worried = health.filter(({ verdict }) => verdict === "watch" || verdict === "resting");
  const good = health.filter(({ verdict }) => verdict === "good").length;
  const wrong = domains.filter(({ problems }) => problems > 0);
  return (
    <MarginNote title="Senders' health">
      {domains.length === 0 ? (
        <Typography sx={{ mb: 0.75 }}>
          <Link to="/sending/domains">SPF, DKIM and DMARC were not checked yet.</Link>
        </Typography>
      ) : (
        <Typography sx={{ mb: 0.75, color: wrong.length > 0 ? "clay.main" : "kelp.text" }}>
          {wrong.length === 0
            ? `✓ ${count(domains.length, "domain")} set up as they should be`
            : `! ${wrong.map(({ domain }) => domain).join(", ")}: `}
          {wrong.length > 0 && (
            <Link to="/sending/domains">
              {count(
                wrong.reduce((sum, { problems }) => sum + problems, 0),
                "thing",
              )}{" "}
              to mend
            </Link>
          )}
        </Typography>
      )}
      {good > 0 && (
        <Typography sx={{ mb: 0.75, color: "kelp.text" }}>
          ✓ {count(good, "mailbox is", "mailboxes are")} healthy
        </Typography>
      )}
      {worried.map(({ id, address, verdict, week }) => {
        const mailbox = mailboxes.find((each) => each.id === id);
        return (
          <Typography key={id} sx={{ mb: 0.75, color: "clay.main" }}>
            ! <Link to={`/sending/mailboxes/${id}`}>{address}</Link>:{" "}
            {verdict === "resting"
              ? `${restWords(mailbox?.restReason ?? null)}; rests until ${mailbox?.restUntil ? day(mailbox.restUntil, zone) : "you wake it"}`
              : `${percent(week.bounced, week.sent)} bounced and ${percent(week.complained, week.sent)} were reported in 7 days`}
          </Typography>
        );
      })}
      {mailboxes
        .filter(({ trouble, isStopped }) => trouble && !isStopped)
        .map(({ id, address, trouble }) => (
          <Typography key={id} sx={{ mb: 0.75, color: "clay.main" }}>
            ! <Link to={`/sending/mailboxes/${id}`}>{address}</Link>: {trouble}
          </Typography>
        ))}
      {good === 0 && worried.length === 0 && (
        <Typography color="textSecondary">Too few emails so far to tell how they are received.</Typography>
      )}
    </MarginNote>
  );
}
