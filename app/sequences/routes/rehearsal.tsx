import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Slider from "@mui/material/Slider";
import { useTheme } from "@mui/material/styles";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useState } from "react";
import { data, Link } from "react-router";
import { dayNumberFrom, weekdayOf, weekdayOn } from "../../../core/calendar";
import { everyStep } from "../../../core/sequence/path";
import type { Range, Rates, Rehearsal } from "../../../core/sequence/rehearse";
import { webApp } from "../../../server/app";
import { sequenceOf } from "../../../server/sequences/open-sequence";
import { type RehearsalMaterial, rehearsalMaterial } from "../../../server/sequences/rehearsal-input";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { count, dayOfMonth, longDay } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { Timeline } from "../../timeline/timeline";
import { drawPlan } from "../plan-drawing";
import type { Asked, Told } from "../rehearsal-worker";
import { WORDS } from "../start/standing-words";
import type { Route } from "./+types/rehearsal";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const sequence = sequenceOf(app, context.get(userContext).id, Number(params.id));
  if (!sequence || sequence.deletedAt !== null)
    throw data("This sequence does not exist, or no longer.", { status: 404 });
  const { name, path, settings } = sequence;
  return {
    name,
    path,
    settings,
    material: rehearsalMaterial(app, sequence),
    today: weekdayOf(app.clock.now(), context.get(userContext).zone),
  };
}

const DAYS = 60;
const RATE_WORDS: Record<keyof Rates, string> = {
  reply: "of emails are answered",
  open: "are opened",
  click: "are clicked in",
  meeting: "of replies book a call",
  accept: "of invitations are accepted",
};
const rangeWords = ({ low, high }: Range, noun: string, many?: string) =>
  low === high ? count(low, noun, many) : `${low} to ${count(high, noun, many)}`;

export default function RehearsalPage({ loaderData, params }: Route.ComponentProps) {
  const { name, path, settings, material, today } = loaderData;
  const [rates, setRates] = useState<Rates>(material.rates);
  const [run, setRun] = useState<{ result: Rehearsal | null; day: number }>({ result: null, day: 0 });
  const [shownDay, setShownDay] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);

  useEffect(() => {
    if (material.people.length === 0) return;
    const worker = new Worker(new URL("../rehearsal-worker.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data: told }: MessageEvent<Told>) =>
      setRun((before) => ("day" in told ? { ...before, day: told.day } : { result: told.result, day: DAYS }));
    const asked: Asked = {
      path,
      ...material,
      days: DAYS,
      rates,
      stops: {
        reply: settings.stops.reply,
        meeting: settings.stops.meeting,
        open: settings.stops.open,
        click: settings.stops.click,
      },
      newADay: settings.newADay,
      seed: `${params.id} rehearsal`,
    };
    const timer = setTimeout(() => worker.postMessage(asked), 300);
    return () => {
      clearTimeout(timer);
      worker.terminate();
    };
  }, [path, material, rates, settings, params.id]);

  const { result } = run;
  const last = (result?.days.length ?? 1) - 1;
  const day = Math.min(shownDay ?? last, last);
  useEffect(() => {
    if (!playing) return;
    const timer = setInterval(() => setShownDay((at) => Math.min((at ?? 0) + 1, last)), 220);
    return () => clearInterval(timer);
  }, [playing, last]);
  useEffect(() => {
    if (playing && day >= last) setPlaying(false);
  }, [playing, day, last]);

  const plan = useMemo(() => drawPlan(path, { today, isWrong: () => false }), [path, today]);
  const { drawing: _, dropPlaces: __, ...timeline } = plan;
  const soFar = (id: string) =>
    result?.days.slice(0, day + 1).reduce((sum, { steps }) => sum + (steps[id] ?? 0), 0) ?? 0;
  const names = new Map(everyStep(path).map((step) => [step.id, step.name]));
  const marks = timeline.marks.map((mark) =>
    names.has(mark.id)
      ? {
          ...mark,
          label: `${soFar(mark.id)} · ${mark.label}`,
          state: soFar(mark.id) > 0 ? ("done" as const) : mark.state,
          spoken: `${mark.label}: ${count(soFar(mark.id), "person", "people")} by this day`,
        }
      : mark,
  );
  const people = material.people.length;
  return (
    <Page
      heading={
        people === 0
          ? "Nobody is left to rehearse with"
          : result
            ? result.lastDay === null
              ? "Nothing would go out"
              : `${rangeWords(result.replies, "reply", "replies")} and ${rangeWords(result.meetings, "call")}, all through by ${longDay(result.lastDay)}`
            : "Rehearsing …"
      }
      sub={
        <>
          <Link to={`/sequences/${params.id}`}>{name}</Link> · {count(people, "person", "people")},{" "}
          {count(material.mailboxes.length, "mailbox", "mailboxes")} · nothing is sent
        </>
      }
      actions={
        <Button variant="contained" component={Link} to={`/sequences/${params.id}/start`}>
          Check and start
        </Button>
      }
      margin={
        <RehearsalMargin
          result={result}
          seenEmails={material.seenEmails}
          others={material.others}
          rates={rates}
          onRates={setRates}
        />
      }
    >
      {people === 0 ? (
        <Empty
          title="Nobody to rehearse with"
          text={
            material.others.length > 0
              ? "Nobody of its list could be written to now; why, stands on the right."
              : "It has no list yet, or nobody is on it."
          }
        />
      ) : (
        <>
          {!result && (
            <LinearProgress
              aria-label="Days rehearsed"
              variant="determinate"
              value={(100 * run.day) / DAYS}
              sx={{ mb: 2 }}
            />
          )}
          <Timeline {...timeline} marks={marks} mostHeight={300} />
          {result && (
            <>
              <Box sx={{ display: "flex", gap: 2, alignItems: "center", mt: 2 }}>
                <Button
                  onClick={() => {
                    setShownDay(day >= last ? 0 : day);
                    setPlaying(!playing);
                  }}
                >
                  {playing ? "Stop" : "Play"}
                </Button>
                <Slider
                  value={day}
                  min={0}
                  max={last}
                  onChange={(_, value) => setShownDay(value as number)}
                  aria-label="Day"
                  getAriaValueText={(value) => longDay(result.days[value]?.day ?? "")}
                />
                <Typography sx={{ width: 150, textAlign: "right" }}>
                  {longDay(result.days[day]?.day ?? "")}
                </Typography>
              </Box>
              <Bars result={result} day={day} />
            </>
          )}
        </>
      )}
    </Page>
  );
}

function RehearsalMargin(props: {
  result: Rehearsal | null;
  seenEmails: number;
  others: RehearsalMaterial["others"];
  rates: Rates;
  onRates: (rates: Rates) => void;
}) {
  const { result, seenEmails, others, rates, onRates } = props;
  return (
    <>
      {others.length > 0 && (
        <MarginNote title="Not rehearsed">
          {others.map(({ standing, count: people }) => (
            <Typography key={standing}>
              {people} {WORDS[standing].waits}
            </Typography>
          ))}
        </MarginNote>
      )}
      <MarginNote title="If these rates hold">
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          {seenEmails > 0
            ? `As they were in your ${seenEmails} emails so far. Change them and it is rehearsed anew.`
            : "Too few of your own emails to tell: usual ones, on the low side. Change them and it is rehearsed anew."}
        </Typography>
        {(Object.keys(RATE_WORDS) as (keyof Rates)[]).map((rate) => (
          <Box key={rate} sx={{ display: "flex", gap: 1, alignItems: "center", mb: 0.75 }}>
            <TextField
              type="number"
              value={Number((rates[rate] * 100).toFixed(1))}
              onChange={({ target }) =>
                onRates({
                  ...rates,
                  [rate]: Math.max(0, Math.min(100, Number(target.value) || 0)) / 100,
                })
              }
              slotProps={{
                htmlInput: { "aria-label": `Percent ${RATE_WORDS[rate]}`, step: 0.5, min: 0, max: 100 },
              }}
              sx={{ width: 84, "& input": { py: 0.6 } }}
            />
            <Typography>% {RATE_WORDS[rate]}</Typography>
          </Box>
        ))}
      </MarginNote>
      {result && (
        <>
          <MarginNote title="How it ends for them">
            <Typography>
              {result.ends.replied} stop because they reply, {result.ends.finished} get all of it
              {result.ends.stopped > 0 && `, ${result.ends.stopped} stop by a click or an open`}
              {result.ends.underWay > 0 && `, ${result.ends.underWay} are still under way after ${DAYS} days`}
              .
            </Typography>
            <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
              The range holds 9 of 10 runs of chance; it is wide because
              {seenEmails > 0 ? ` only ${seenEmails} emails` : " none of your own emails"} tell the rate.
            </Typography>
          </MarginNote>
          <MarginNote title="What holds it up">
            <Typography>
              {result.fullDays > 0
                ? `The mailboxes are full on ${count(result.fullDays, "day")}: they, not the waits, decide how long it takes.`
                : "Nothing: the mailboxes have room on every day."}
              {result.allBegunBy && ` Everybody has begun by ${longDay(result.allBegunBy)}.`}
            </Typography>
          </MarginNote>
        </>
      )}
    </>
  );
}

/** Touches by day and channel, as stacked bars; the late ones as an outline above. */
function Bars({ result, day }: { result: Rehearsal; day: number }) {
  const { palette } = useTheme();
  const totals = result.days.map(({ touches }) =>
    Object.values(touches).reduce((sum, number) => sum + number, 0),
  );
  const most = Math.max(1, ...totals);
  const [width, height] = [860, 170];
  const step = width / result.days.length;
  const colours = {
    email: palette.tile.main,
    social: palette.kelp.main,
    call: palette.ochre.main,
    errand: palette.clay.main,
  };
  return (
    <Box sx={{ mt: 1.5 }}>
      <svg viewBox={`0 0 ${width} ${height + 22}`} width="100%" role="img" aria-label="Touches by day">
        {result.days.map(({ day: date, touches }, index) => {
          let y = height;
          return (
            <g key={date} opacity={index <= day ? 1 : 0.35}>
              <title>{`${longDay(date)}: ${totals[index]} touches`}</title>
              {(Object.keys(colours) as (keyof typeof colours)[]).map((channel) => {
                const tall = (touches[channel] / most) * (height - 20);
                y -= tall;
                return tall > 0 ? (
                  <rect
                    key={channel}
                    x={index * step + 1}
                    y={y}
                    width={Math.max(1, step - 3)}
                    height={tall}
                    fill={colours[channel]}
                  />
                ) : null;
              })}
              {(totals[index] ?? 0) > 0 && step > 20 && (
                <text
                  x={index * step + step / 2}
                  y={y - 4}
                  textAnchor="middle"
                  fontSize={11.5}
                  fill={palette.text.secondary}
                >
                  {totals[index]}
                </text>
              )}
              {weekdayOn(dayNumberFrom(date)) === 1 && (
                <text x={index * step + 2} y={height + 16} fontSize={12} fill={palette.text.secondary}>
                  {dayOfMonth(date)}
                </text>
              )}
            </g>
          );
        })}
        <line x1={0} x2={width} y1={height} y2={height} stroke={palette.divider} />
      </svg>
      <Box sx={{ display: "flex", gap: 2.5 }}>
        {(Object.keys(colours) as (keyof typeof colours)[])
          .filter((channel) => result.days.some(({ touches }) => touches[channel] > 0))
          .map((channel) => (
            <Typography
              key={channel}
              variant="body2"
              color="textSecondary"
              sx={{ display: "flex", gap: 0.75, alignItems: "center" }}
            >
              <Box
                component="span"
                sx={{ width: 10, height: 10, bgcolor: colours[channel], borderRadius: 0.3 }}
              />
              {channel}
            </Typography>
          ))}
      </Box>
    </Box>
  );
}
