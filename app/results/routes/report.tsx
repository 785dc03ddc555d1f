/** What a week or a day brought, on one page that prints: the figures with their change, and at most three things to do. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Suspense } from "react";
import { Await, Link, useSearchParams } from "react-router";
import { dayNumberFrom, dayOf, textOfDay } from "../../../core/calendar";
import { change } from "../../../core/results/figure-words";
import { findingWords } from "../../../core/results/finding-words";
import { HAPPENED, HAPPENED_NAMES } from "../../../core/results/happened";
import { webApp } from "../../../server/app";
import { report, reportQuery } from "../../../server/results/report";
import { type WorthActingOn, worthActingOn } from "../../../server/results/worth-acting-on";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { PlainSelect } from "../../components/plain-select";
import { longDay } from "../../components/words";
import { Figures, Note } from "../tables";
import { GREEN_WORDS } from "../words";
import type { Route } from "./+types/report";

export function loader({ request, context }: Route.LoaderArgs) {
  const app = webApp();
  const { id, zone } = context.get(userContext);
  const asked = reportQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
  const today = dayOf(app.clock.now(), zone);
  const figures = report(app, id, asked.day ?? today, asked.span, zone);
  // The page does not wait for what takes longer.
  return { ...figures, acting: worthActingOn(app, id, figures.sequences, zone), span: asked.span, today };
}

export default function Report({ loaderData }: Route.ComponentProps) {
  const { now, before, sequences, acting, from, to, span, today } = loaderData;
  const [, setQuery] = useSearchParams();
  const set = (name: string, value: string) =>
    setQuery((asked) => {
      asked.set(name, value);
      return asked;
    });
  const turn = (by: number) => set("day", textOfDay(dayNumberFrom(from) + by * (span === "week" ? 7 : 1)));
  return (
    <Page
      heading={`${now.positive} ${GREEN_WORDS.positive.verb(now.positive)}, ${now.booked} booked a call`}
      sub={span === "week" ? `The week of ${longDay(from)} to ${longDay(to)}` : longDay(from)}
      actions={
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", "@media print": { display: "none" } }}>
          <PlainSelect
            aria-label="Span"
            value={span}
            onChange={(value) => set("span", value)}
            options={[
              ["week", "A week"],
              ["day", "A day"],
            ]}
            sx={{ width: 110 }}
          />
          <Button onClick={() => turn(-1)}>Before</Button>
          <Button onClick={() => turn(1)} disabled={to >= today}>
            After
          </Button>
          <Button
            variant="outlined"
            href={`/results/table?${new URLSearchParams({ show: "report", day: from, span })}`}
            download
          >
            Download
          </Button>
          <Button variant="outlined" onClick={() => window.print()}>
            Print
          </Button>
        </Box>
      }
      margin={
        <MarginNote title="Worth acting on">
          <Suspense fallback={<Typography color="textSecondary">Looking through the sequences …</Typography>}>
            <Await resolve={acting}>{(found) => <Acting found={found} />}</Await>
          </Suspense>
        </MarginNote>
      }
    >
      <Figures
        name="Figures"
        rows={HAPPENED_NAMES}
        keyOf={(name) => name}
        columns={[
          { title: "What happened", of: (name) => HAPPENED[name][1] },
          {
            title: span === "week" ? "This week" : "This day",
            of: (name) => now[name].toLocaleString("en-GB"),
          },
          { title: "Before", of: (name) => before[name].toLocaleString("en-GB") },
          { title: "Change", of: (name) => change(now[name] - before[name], "–") },
        ]}
      />
      <Typography variant="h2" sx={{ mt: 3, mb: 1 }}>
        By sequence
      </Typography>
      {sequences.length === 0 ? (
        <Note>Nothing happened on any sequence.</Note>
      ) : (
        <Figures
          name="By sequence"
          rows={sequences}
          keyOf={({ id }) => String(id)}
          columns={[
            { title: "Sequence", of: ({ id, name }) => <Link to={`/results/${id}`}>{name}</Link> },
            ...HAPPENED_NAMES.slice(0, 5).map((name) => ({
              title: HAPPENED[name][1],
              of: (row: (typeof sequences)[number]) => row.now[name].toLocaleString("en-GB"),
            })),
          ]}
        />
      )}
    </Page>
  );
}

function Acting({ found }: { found: WorthActingOn[] | null }) {
  if (found === null)
    return <Typography>It could not be worked out this time. Reload the page to try again.</Typography>;
  if (found.length === 0) return <Typography>Nothing this time that could not be chance.</Typography>;
  return found.map(({ sequenceId, name, finding }) => {
    const { says, rests } = findingWords(finding, null);
    return (
      <Box key={`${sequenceId} ${finding.key}`} sx={{ "& + &": { mt: 1.5 } }}>
        <Typography>{says}</Typography>
        <Typography variant="body2" color="textSecondary">
          {rests} <Link to={`/results/${sequenceId}`}>{name}</Link>
        </Typography>
      </Box>
    );
  });
}
