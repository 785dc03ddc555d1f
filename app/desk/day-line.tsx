import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { styled } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import isEqual from "fast-deep-equal";
import { Suspense, useEffect, useRef, useState } from "react";
import { useFetcher, useMatches, useNavigate } from "react-router";
import type { DayLine as Day, DayTick } from "../../server/desk/day-line";
import { lazily } from "../components/lazily";
import { useAction } from "../components/use-action";
import { count, day, time } from "../components/words";
import { type Follows, type PageHandle, useLive } from "./live";
import { useReachable } from "./reach";
import { useRefresh } from "./refresh";
import { useTellNotices } from "./tell-notices";

const TickWords = lazily(() => import("./tick-words"), "TickWords");

const HOUR = 3_600_000;
/** While the server tells what changes, a look now and then is enough: it finds a line that died without a word. */
const LISTENING = 15_000;
const SLOW = 5_000;
const FAST = 700;

const SENT_IS_SHOWN_WITHIN = 30_000;

/** Hours shown: the usual working day, more if something happens outside it. */
function shownHours({ dayStart, sent, planned, replies, now }: Day): [number, number] {
  const hours = [...sent, ...planned, ...replies, { at: now }].map(({ at }) => (at - dayStart) / HOUR);
  return [Math.floor(Math.min(7, ...hours)), Math.ceil(Math.max(19, ...hours.map((hour) => hour + 0.01)))];
}

/** The strip at the foot: today's emails, sent and to go, and the demo's clock. */
export function DayLine({ initial }: { initial: Day }) {
  const look = useFetcher<Day>();
  const move = useAction({ to: "/day-line" });
  const line = look.data && isLater(look.data, initial) ? look.data : initial;
  const isReachable = useReachable();
  const isMoving = line.moving !== null || move.isBusy;

  const live = useLive();
  const isListening = live !== null;
  const hasListened = useRef(false);
  const { load } = look;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is told is news or not once, by what is shown when it is told.
  useEffect(() => {
    // Nothing is told any more: a look shows whether the server is there at all.
    const isCut = live === null && hasListened.current && document.visibilityState === "visible";
    if (isCut || (live && !isEqual(live, line.asOf))) void load("/day-line");
    hasListened.current = live !== null;
  }, [load, live]);
  useFollow(line, initial, isMoving, look.data);
  useTellNotices(line.notices);

  useEffect(() => {
    const every = isMoving ? FAST : isListening ? LISTENING : SLOW;
    const timer = setInterval(() => document.visibilityState === "visible" && load("/day-line"), every);
    return () => clearInterval(timer);
  }, [load, isMoving, isListening]);

  const ask = (intent: string) => move.press({ intent });
  return (
    <Box
      component="footer"
      aria-label="The day"
      sx={{
        height: 60,
        display: "flex",
        alignItems: "center",
        gap: { xs: 1, sm: 3 },
        px: { xs: 1.5, sm: 2.5 },
        bgcolor: "tile.deep",
        color: "background.paper",
        "& button": {
          px: { xs: 1, sm: 1.75 },
          color: "background.paper",
          bgcolor: "tile.main",
          borderColor: "tile.line",
          "&.Mui-disabled": { color: "tile.line" },
        },
      }}
    >
      <Box sx={{ minWidth: { xs: 0, sm: 172 }, flex: { xs: 1, sm: "none" } }}>
        <Typography data-testid="clock" sx={{ fontWeight: 650 }}>
          {day(line.now, line.zone)}, {time(line.now, line.zone)}
        </Typography>
        <Typography
          variant="caption"
          role={isReachable ? undefined : "status"}
          sx={{ color: isReachable ? "tile.wash" : "ochre.wash" }}
        >
          {isReachable
            ? `${line.sent.length} sent · ${line.planned.length} to go · ${count(line.replies.length, "reply", "replies")}`
            : "No connection. Waiting …"}
        </Typography>
      </Box>
      <Hours line={line} />
      {line.demo && (
        <Box sx={{ display: "flex", gap: 1, flexShrink: 0 }}>
          {isMoving ? (
            <Button onClick={() => ask("cancel")}>Stop the clock here</Button>
          ) : (
            <>
              <Button onClick={() => ask("next_event")}>Next event</Button>
              <Button onClick={() => ask("next_morning")}>Next morning</Button>
            </>
          )}
        </Box>
      )}
    </Box>
  );
}

const countOf = ({ asOf }: Day): number => asOf.events + asOf.replies + asOf.plan;
/** Whether what was looked at is of after what came with the page: each of the counts only grows. */
const isLater = (one: Day, other: Day): boolean => countOf(one) >= countOf(other);

/**
 * The screen above follows when something happened that it shows. A letter, or what a colleague said of it, is shown at once; that one more email left can
 * wait for half a minute, with all that left meanwhile. `initial` came with what the screen shows.
 */
function useFollow(line: Day, initial: Day, isMoving: boolean, looked: unknown): void {
  const matches = useMatches();
  const follows = (matches.at(-1)?.handle as PageHandle | undefined)?.follows ?? EVERYTHING;
  const newsOf = ({ asOf, now, zone }: Day) =>
    `${follows.includes("replies") ? asOf.replies : ""} ${isMoving} ${day(now, zone)}`;
  const sentOf = ({ asOf }: Day) =>
    [follows.includes("events") ? asOf.events : "", follows.includes("plan") ? asOf.plan : ""].join();
  const [news, sent] = [newsOf(line), sentOf(line)];
  const seen = useRef({ news: "", sent: "", at: 0 });
  const refresh = useRefresh();
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what comes anew counts as shown.
  useEffect(() => {
    seen.current = { news: newsOf(initial), sent: sentOf(initial), at: Date.now() };
  }, [initial]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what could not be fetched now is tried after the next look.
  useEffect(() => {
    const before = seen.current;
    const isOld = sent !== before.sent && (line.demo || Date.now() - before.at > SENT_IS_SHOWN_WITHIN);
    if ((before.news !== news || isOld) && refresh()) seen.current = { news, sent, at: Date.now() };
  }, [news, sent, refresh, looked]);
}
const EVERYTHING: Follows = ["events", "replies", "plan"];

function Hours({ line }: { line: Day }) {
  const [from, to] = shownHours(line);
  const place = (at: number) => `${(100 * ((at - line.dayStart) / HOUR - from)) / (to - from)}%`;
  const step = to - from > 14 ? 2 : 1;
  const navigate = useNavigate();
  const [near, setNear] = useState<HTMLElement | null>(null);
  const tickOf = ({ target }: React.SyntheticEvent) =>
    target instanceof HTMLElement && target.dataset.tick ? target : null;
  const about = (tick: DayTick, did: string) => ({
    prospectId: tick.prospectId,
    words: `${did} ${time(tick.at, line.zone)} · ${tick.name} · ${tick.mailbox}`,
  });
  const hours = Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, index) => from + index * step);
  return (
    <Line
      onPointerOver={(event) => setNear(tickOf(event))}
      onPointerLeave={() => setNear(null)}
      onClick={(event) => {
        const id = tickOf(event)?.dataset.prospect;
        if (id) navigate(`/prospects/${id}`);
      }}
    >
      <hr />
      {hours.map((hour) => (
        <span key={hour} style={{ left: place(line.dayStart + hour * HOUR) }}>
          {hour}
        </span>
      ))}
      {line.planned.map((tick) => (
        <Tick key={`p${tick.prospectId}`} kind="planned" left={place(tick.at)} {...about(tick, "To go")} />
      ))}
      {line.sent.map((tick) => (
        <Tick
          key={`s${tick.prospectId} ${tick.at}`}
          kind="sent"
          left={place(tick.at)}
          {...about(tick, "Sent")}
        />
      ))}
      {line.replies.map((tick) => (
        <Tick
          key={`r${tick.prospectId} ${tick.at}`}
          kind="reply"
          left={place(tick.at)}
          {...about(tick, "Replied")}
        />
      ))}
      {near && (
        <Suspense>
          <TickWords near={near} />
        </Suspense>
      )}
      <div aria-hidden style={{ left: place(line.now) }} />
    </Line>
  );
}

const Line = styled("div")(({ theme: { palette, typography, breakpoints } }) => ({
  position: "relative",
  flex: 1,
  height: "100%",
  margin: "0 8px",
  [breakpoints.down("sm")]: { display: "none" },
  "& > *": { position: "absolute", transform: "translateX(-50%)" },
  "& > hr": {
    transform: "none",
    inset: "35px 0 auto",
    height: 1,
    margin: 0,
    border: 0,
    background: palette.tile.line,
    opacity: 0.5,
  },
  // The hours.
  "& > span": { ...typography.caption, top: 38, color: palette.tile.line, fontSize: 11.5 },
  // The ticks.
  "& > i": { cursor: "pointer", boxSizing: "border-box" },
  "& > i::after": { content: '""', position: "absolute", inset: "-4px -2px" },
  // Now.
  "& > div": { top: 8, height: 34, width: 2, background: palette.ochre.bright, pointerEvents: "none" },
  "& > div::after": {
    content: '""',
    position: "absolute",
    bottom: -4,
    left: -2,
    width: 6,
    height: 6,
    borderRadius: "50%",
    background: palette.ochre.bright,
  },
}));

const LOOKS: Record<string, React.CSSProperties> = {
  sent: { top: 22, width: 3, height: 13, background: "var(--mui-palette-tile-wash)" },
  planned: {
    top: 25,
    width: 4,
    height: 10,
    border: "1px solid var(--mui-palette-tile-line)",
    borderRadius: 1,
  },
  reply: { top: 10, width: 7, height: 7, background: "var(--mui-palette-kelp-bright)", borderRadius: "50%" },
};

/**
 * A tick answers on hover and leads to its prospect on click; the numbers beside the line say the same to a screen reader.
 * A full day has hundreds, on every page: so each is one plain element, and one tooltip serves all.
 */
function Tick({
  kind,
  left,
  words,
  prospectId,
}: {
  kind: string;
  left: string;
  words: string;
  prospectId: number;
}) {
  return (
    <i
      role="img"
      data-tick={kind}
      aria-label={words}
      data-prospect={prospectId}
      style={{ left, ...LOOKS[kind] }}
    />
  );
}
