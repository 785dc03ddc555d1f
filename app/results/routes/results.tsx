/** Results of everything: how many want to talk, which sequence brings them, how the senders do, and week by week. */
import Button from "@mui/material/Button";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import { Link, useSearchParams } from "react-router";
import { percent } from "../../../core/results/figure-words";
import { type Share, shareOf } from "../../../core/results/share";
import { webApp } from "../../../server/app";
import { lookChoices } from "../../../server/results/choices";
import { fileDetail, fileLines } from "../../../server/results/files";
import { lookQuery } from "../../../server/results/look";
import { cohorts, overview, type SequenceLine } from "../../../server/results/overview";
import { senders, sendersBy } from "../../../server/results/senders";
import { setTarget, weekAhead, weekTargets } from "../../../server/results/targets";
import { userContext } from "../../accounts/session";
import { lazily } from "../../components/lazily";
import { Empty, MarginNote, Page } from "../../components/page";
import { count } from "../../components/words";
import { readForm, unknownIntent } from "../../desk/read-form";
import { Interval } from "../interval";
import { isNarrowed, LookBar } from "../look-bar";
import { Figures, WeeksTable } from "../tables";
import { GREEN_WORDS, likely } from "../words";
import type { Route } from "./+types/results";

// In no Suspense: where the address asks for one, the page answers together with it.
const Senders = lazily(() => import("../senders"), "Senders");
const Files = lazily(() => import("../files"), "Files");
const Targets = lazily(() => import("../targets"), "Targets");

export async function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const { id, zone } = context.get(userContext);
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const look = lookQuery.parse(query);
  const targets = query.show === "weeks" ? weekTargets(app, id, zone) : null;
  return {
    ...overview(app, id, look, zone),
    senders: query.show === "senders" ? senders(app, zone, sendersBy(query.by), look) : [],
    sendersBy: sendersBy(query.by),
    files: query.show === "files" ? fileLines(app, id, look, zone) : [],
    file: query.show === "files" && query.file ? fileDetail(app, id, Number(query.file), look, zone) : null,
    zone,
    weeks: query.show === "weeks" ? cohorts(app, id, null, look, zone) : [],
    targets,
    ahead: targets && weekAhead(app, targets.lines, zone),
    look,
    choices: lookChoices(app, id, null, zone),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await readForm(request);
  switch (form.intent) {
    case "target":
      return setTarget(webApp(), context.get(userContext).id, form);
    default:
      return unknownIntent(form.intent);
  }
}

const PARTS = { sequences: "Sequences", senders: "Senders", files: "Files", weeks: "Week by week" } as const;
type Part = keyof typeof PARTS;
type Loaded = Route.ComponentProps["loaderData"];

export default function Results({ loaderData }: Route.ComponentProps) {
  const { lines, all, look, choices } = loaderData;
  const [query, setQuery] = useSearchParams();
  const part = (Object.keys(PARTS) as Part[]).find((each) => each === query.get("show")) ?? "sequences";
  const { green } = look;
  // What narrows everything but the senders, of whom all that they sent counts.
  const beyond = (["since", "list", "country", "stage"] as const).filter((name) => look[name] !== undefined);
  return (
    <Page
      heading={
        all.reached === 0
          ? "Nothing to learn from yet"
          : `${all[green]} of ${count(all.reached, "person", "people")} reached ${GREEN_WORDS[green].verb(all[green])}`
      }
      sub={
        all.started > 0 &&
        `${all.answered} answered, ${all.booked} booked a call, ${all.optedOut} opted out, ${all.bounced} came back · ${all.active} still on the way`
      }
      actions={
        all.started > 0 && (
          <>
            <Button variant="outlined" component={Link} to="/results/report">
              The week’s report
            </Button>
            <Button variant="outlined" href={`/results/table?${query}`} download>
              Download
            </Button>
          </>
        )
      }
      margin={
        <>
          <Apart lines={lines} green={green} />
          <MarginNote title="How to read this">
            <Typography>
              “Written to” is whom an email, a social message or a call was tried with; “reached” those of
              whom it got through. Every share is of those reached. A start counts once, whatever they did
              twice. Opens are left out: some mail programs load every picture, others none.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <LookBar
        look={look}
        choices={choices}
        of={
          part === "senders"
            ? ["rep", "mailbox", ...beyond]
            : part === "files"
              ? ["since", "rep"]
              : ["since", "rep", "green"]
        }
        more={part === "senders" ? [] : ["list", "mailbox", "country", "stage"]}
      />
      {all.started === 0 ? (
        <Empty
          title={
            isNarrowed(look) ? "Nobody was started who fits all of this" : "No sequence has been started"
          }
          text={
            isNarrowed(look) ? "Take a filter back." : "Once one runs, this page counts what came of each."
          }
        />
      ) : (
        <>
          <Tabs
            value={part}
            onChange={(_, value: Part) =>
              setQuery(
                (before) => {
                  if (value === "sequences") before.delete("show");
                  else before.set("show", value);
                  return before;
                },
                { replace: true, preventScrollReset: true },
              )
            }
            variant="scrollable"
            aria-label="Questions"
            sx={{ borderBottom: "1px solid", borderColor: "divider", mb: 1.25 }}
          >
            {(Object.keys(PARTS) as Part[]).map((each) => (
              <Tab key={each} value={each} label={PARTS[each]} />
            ))}
          </Tabs>
          {part === "sequences" && <Sequences lines={lines} look={look} query={query} />}
          {part === "senders" && (
            <Senders lines={loaderData.senders} by={loaderData.sendersBy} ofEverything={beyond.length > 0} />
          )}
          {part === "files" && (
            <Files lines={loaderData.files} file={loaderData.file} zone={loaderData.zone} />
          )}
          {part === "weeks" && (
            <>
              {loaderData.targets && loaderData.ahead && (
                <Targets targets={loaderData.targets} ahead={loaderData.ahead} />
              )}
              <Typography variant="h2" sx={{ mb: 1 }}>
                What came of each week’s starts
              </Typography>
              <WeeksTable weeks={loaderData.weeks} />
            </>
          )}
        </>
      )}
    </Page>
  );
}

function Sequences({
  lines,
  look: { green },
  query,
}: Pick<Loaded, "lines" | "look"> & { query: URLSearchParams }) {
  const most = Math.max(...lines.map(({ figures }) => shareOf(figures[green], figures.reached).high));
  return (
    <Figures
      name="Sequences"
      rows={lines.toSorted(
        (a, b) =>
          b.figures[green] / Math.max(1, b.figures.reached) -
          a.figures[green] / Math.max(1, a.figures.reached),
      )}
      keyOf={({ id }) => String(id)}
      columns={[
        {
          title: "Sequence",
          of: ({ id, name }) => (
            <Link
              to={`/results/${id}?${new URLSearchParams([...query].filter(([each]) => each !== "show"))}`}
            >
              {name}
            </Link>
          ),
        },
        { title: "Written to", of: ({ figures }) => figures.written.toLocaleString("en-GB") },
        { title: "Reached", of: ({ figures }) => figures.reached.toLocaleString("en-GB") },
        {
          title: "Answered",
          of: ({ figures }) => `${figures.answered} · ${percent(figures.answered, figures.reached)}`,
        },
        {
          title: "Want to talk",
          of: ({ figures }) => `${figures.positive} · ${percent(figures.positive, figures.reached)}`,
        },
        {
          title: "likely between",
          of: ({ figures }) => <Between share={shareOf(figures[green], figures.reached)} most={most} />,
        },
        { title: "Calls booked", of: ({ figures }) => figures.booked },
        { title: "Opted out", of: ({ figures }) => figures.optedOut },
        { title: "On the way", of: ({ figures }) => figures.active.toLocaleString("en-GB") },
      ]}
    />
  );
}

const Between = ({ share, most }: { share: Share; most: number }) => (
  <Interval low={share.low} high={share.high} most={most} words={likely(share)} />
);

/** Which sequence is surely above the others, said only where the intervals stand apart. */
function Apart({ lines, green }: { lines: SequenceLine[]; green: keyof typeof GREEN_WORDS }) {
  const judged = lines
    .map((line) => ({ line, share: shareOf(line.figures[green], line.figures.reached) }))
    .filter(({ share }) => share.whole >= 20)
    .sort((a, b) => b.share.low - a.share.low);
  const [best, ...others] = judged;
  const isSure =
    best !== undefined && others.length > 0 && others.every(({ share }) => share.high < best.share.low);
  return (
    <MarginNote title="What the numbers say">
      <Typography>
        {!best
          ? "Nothing yet: a sequence needs some twenty people before its figures say anything."
          : isSure
            ? `“${best.line.name}” brings more than every other, and it is more than chance: ${likely(best.share)} of those it reaches.`
            : others.length === 0
              ? `“${best.line.name}”: ${likely(best.share)} of those it reaches.`
              : `“${best.line.name}” leads with ${percent(best.share.part, best.share.whole)}, which may still be chance: ${likely(best.share)}. Open a sequence for what to change in it.`}
      </Typography>
    </MarginNote>
  );
}
