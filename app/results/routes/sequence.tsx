/** What came of one sequence: its path with the band of people, what the numbers say, and each question's own table. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import { data, Link, redirect, useSearchParams } from "react-router";
import type { Finding } from "../../../core/results/findings";
import { webApp } from "../../../server/app";
import { besideChoices, besideOf } from "../../../server/results/beside";
import { lookChoices } from "../../../server/results/choices";
import { loadLines } from "../../../server/results/loads";
import { lookQuery } from "../../../server/results/look";
import { sequenceResults, settledOn } from "../../../server/results/one-sequence";
import { cohorts } from "../../../server/results/overview";
import { profileFromGroup } from "../../../server/results/profile-from-group";
import { bringFindingsBack, setAsideFinding, setAsideKeys } from "../../../server/results/set-aside";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { PlainSelect } from "../../components/plain-select";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { count, longDay } from "../../components/words";
import { readForm, unknownIntent } from "../../desk/read-form";
import { Band } from "../band";
import { Differences } from "../beside";
import { Findings } from "../findings";
import { isNarrowed, LookBar } from "../look-bar";
import {
  GroupsTable,
  HoursPart,
  HowLongTable,
  LoadsTable,
  StepsTable,
  WeeksTable,
  WordingsTable,
} from "../tables";
import { GREEN_WORDS } from "../words";
import type { Route } from "./+types/sequence";

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const { id: userId, zone } = context.get(userContext);
  const id = Number(params.id);
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const look = lookQuery.parse(query);
  const results = sequenceResults(app, userId, id, look, zone);
  if (!results) throw data("This sequence does not exist, or no longer.", { status: 404 });
  const aside = setAsideKeys(app.db, userId, id);
  const findings = results.findings.filter(({ key }) => !aside.has(key));
  const now = app.clock.now();
  const choices = lookChoices(app, userId, id, zone);
  return {
    ...results,
    beside: besideOf(app, userId, id, look, query.beside, zone),
    besides: besideChoices(app, userId, id, look, zone, choices),
    findings,
    asideCount: results.findings.length - findings.length,
    settles: Object.fromEntries(
      findings.flatMap((each) =>
        each.kind === "wordings_open" && each.days !== null
          ? [[each.key, settledOn(now, each.days, zone)]]
          : [],
      ),
    ) as Record<string, string>,
    weeks: query.show === "weeks" ? cohorts(app, userId, id, look, zone) : [],
    loads: query.show === "opens" ? loadLines(app, userId, id, look, zone) : [],
    look,
    choices,
  };
}

export async function action({ params, request, context }: Route.ActionArgs) {
  const app = webApp();
  const { id: userId, zone } = context.get(userContext);
  const form = await readForm(request);
  switch (form.intent) {
    case "set_aside":
      return setAsideFinding(app, userId, Number(params.id), form.key ?? "");
    case "profile": {
      const look = lookQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
      const made = profileFromGroup(app, userId, Number(params.id), form, look, zone);
      return made.ok ? redirect(`/prospects/find?profile=${made.value}`) : made;
    }
    case "bring_back":
      return bringFindingsBack(app, userId, Number(params.id));
    default:
      return unknownIntent(form.intent);
  }
}

const PARTS = {
  steps: "Steps",
  wordings: "Wordings",
  hours: "Hours",
  who: "Who answers",
  long: "How long",
  weeks: "Week by week",
  opens: "Opens",
} as const;
type Part = keyof typeof PARTS;

type Loaded = Route.ComponentProps["loaderData"];

export default function SequenceResults({ loaderData }: Route.ComponentProps) {
  const { id, name, figures, look, choices, steps, path, asideCount, beside } = loaderData;
  const most = Math.max(1, ...[...steps, ...(beside?.results.steps ?? [])].map(({ made }) => made));
  const thisName = thisOf(loaderData);
  const [query, setQuery] = useSearchParams();
  // With the filters, which it is to be judged by.
  const { press, errors } = useAction({ to: `/results/${id}?${query}` });
  const part = (Object.keys(PARTS) as Part[]).find((each) => each === query.get("show")) ?? "steps";
  const peopleAt = (pick: string, stepId: string | null) => {
    const to = new URLSearchParams(query);
    to.delete("show");
    to.set("pick", pick);
    if (stepId !== null) to.set("step", stepId);
    return `/results/${id}/people?${to}`;
  };
  const tableAt = (part: Part | "times" | "beside") =>
    `/results/${id}/table?${new URLSearchParams([...[...query].filter(([name]) => name !== "show"), ["show", part]])}`;
  return (
    <Page
      heading={headingOf(loaderData)}
      sub={
        <>
          <Link to="/results">All results</Link> · <Link to={`/sequences/${id}`}>{name}</Link>
          {loaderData.began && `, since ${longDay(loaderData.began)}`} ·{" "}
          <Link to={peopleAt("answered", null)}>{figures.answered} answered</Link>,{" "}
          <Link to={peopleAt("gone", null)}>{figures.optedOut + figures.bounced + figures.left} left</Link>,{" "}
          <Link to={peopleAt("active", null)}>{figures.active} still on the way</Link>
        </>
      }
      actions={
        figures.started > 0 && (
          <>
            {loaderData.besides.length > 0 && <SetBeside choices={loaderData.besides} />}
            <Button variant="outlined" href={tableAt(part)} download>
              Download
            </Button>
          </>
        )
      }
      margin={
        <>
          <Findings
            findings={loaderData.findings}
            settles={loaderData.settles}
            to={(finding) => leadsTo(finding, id, query, peopleAt)}
            onSetAside={(key) => press({ intent: "set_aside", key })}
            onProfile={({ attribute, value }) => press({ intent: "profile", attribute, value })}
          />
          {asideCount > 0 && (
            <Button
              variant="text"
              size="small"
              sx={{ mt: 1.5, px: 0 }}
              onClick={() => press({ intent: "bring_back" })}
            >
              Say {count(asideCount, "finding")} again that you set aside
            </Button>
          )}
          <MarginNote title="How to read it">
            <Typography>
              The band is the people still on the way. Green rises where something came of it, the darker part
              what you count. Clay falls where they left: opted out, came back, or were taken out. Press any
              number to see its people.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={errors} />
      <LookBar
        look={look}
        choices={choices}
        of={["since", "rep", "list", "green"]}
        more={["credit", "version", "mailbox", "country", "stage"]}
      />
      {figures.started === 0 ? (
        <Empty
          title={isNarrowed(look) ? "Nobody was started who fits all of this" : "Nobody has been started yet"}
          text={
            isNarrowed(look)
              ? "Take a filter back."
              : "Once somebody is on their way, this page shows what comes of each step."
          }
        />
      ) : (
        <>
          {beside && <Typography variant="h2">{thisName}</Typography>}
          <Band
            name={`What came of ${thisName}, step by step`}
            path={path}
            steps={steps}
            green={look.green}
            most={most}
            peopleAt={peopleAt}
          />
          {beside && (
            <>
              <Typography variant="h2" sx={{ mt: 1 }}>
                {beside.name}
              </Typography>
              <Band
                name={`What came of ${beside.name}, step by step`}
                path={beside.results.path}
                steps={beside.results.steps}
                green={look.green}
                most={most}
                peopleAt={null}
              />
              <Box component="section" aria-label="How they differ" sx={{ my: 2 }}>
                <Differences
                  one={figures}
                  other={beside.results.figures}
                  names={[thisName, beside.name]}
                  file={tableAt("beside")}
                />
              </Box>
            </>
          )}
          <Tabs
            value={part}
            onChange={(_, value: Part) =>
              setQuery(
                (before) => {
                  if (value === "steps") before.delete("show");
                  else before.set("show", value);
                  return before;
                },
                { replace: true, preventScrollReset: true },
              )
            }
            variant="scrollable"
            aria-label="Questions"
            sx={{ borderBottom: "1px solid", borderColor: "divider", mb: 1.25, mt: 1 }}
          >
            {(Object.keys(PARTS) as Part[]).map((each) => (
              <Tab key={each} value={each} label={PARTS[each]} />
            ))}
          </Tabs>
          <Shown part={part} loaded={loaderData} peopleAt={peopleAt} timesAt={tableAt("times")} />
        </>
      )}
    </Page>
  );
}

function Shown({
  part,
  loaded,
  peopleAt,
  timesAt,
}: {
  part: Part;
  loaded: Loaded;
  peopleAt: (pick: string, stepId: string | null) => string;
  timesAt: string;
}) {
  const { steps, look } = loaded;
  switch (part) {
    case "steps":
      return <StepsTable steps={steps} green={look.green} peopleAt={peopleAt} />;
    case "wordings":
      return <WordingsTable worded={loaded.worded} green={look.green} />;
    case "hours":
      return (
        <HoursPart hours={loaded.hours} stretches={loaded.stretches} green={look.green} file={timesAt} />
      );
    case "who":
      return <GroupsTable groups={loaded.groups} green={look.green} />;
    case "long":
      return <HowLongTable howLong={loaded.howLong} green={look.green} />;
    case "weeks":
      return <WeeksTable weeks={loaded.weeks} />;
    case "opens":
      return <LoadsTable loads={loaded.loads} />;
  }
}

/** What this look is called where another stands beside it. */
function thisOf({ name, look, beside }: Loaded): string {
  if (beside?.name.startsWith("version")) return look.version ? `version ${look.version}` : "all versions";
  return beside?.name === "the time before" ? "since then" : name;
}

/** Chooses what stands beside it, or nothing. */
function SetBeside({ choices }: { choices: Loaded["besides"] }) {
  const [query, setQuery] = useSearchParams();
  return (
    <PlainSelect
      aria-label="Set beside another"
      value={query.get("beside") ?? ""}
      onChange={(value) =>
        setQuery(
          (before) => {
            if (value === "") before.delete("beside");
            else before.set("beside", value);
            return before;
          },
          { replace: true, preventScrollReset: true },
        )
      }
      options={[["", query.has("beside") ? "Nothing beside it" : "Set beside another"], ...choices]}
      sx={{ width: 190 }}
    />
  );
}

/** The one sentence: how many of how many, and which step found most of them. */
function headingOf({ figures, steps, look, name }: Loaded): string {
  const { green } = look;
  const of = figures[green];
  if (figures.reached === 0) return `${name}: nobody is reached yet`;
  const found = `${of} of ${figures.reached.toLocaleString("en-GB")} ${GREEN_WORDS[green].verb(of)}`;
  const best = steps.toSorted((a, b) => b.brought[green] - a.brought[green])[0];
  if (!best || of < 4 || best.brought[green] / of < 0.25) return found;
  return `${found}; “${best.name}” found ${part(best.brought[green] / of)}`;
}

const part = (share: number) =>
  share > 0.9
    ? "nearly all"
    : share > 0.6
      ? "most of them"
      : share > 0.4
        ? "about half of them"
        : share > 0.29
          ? "a third of them"
          : "a quarter of them";

/** Where a finding's press leads: the step as it would be changed, or whom it speaks of. */
function leadsTo(
  finding: Finding,
  id: number,
  query: URLSearchParams,
  peopleAt: (pick: string, stepId: string | null) => string,
): string | null {
  const shown = (part: Part) =>
    `?${new URLSearchParams([...[...query].filter(([name]) => name !== "show"), ["show", part]])}`;
  switch (finding.kind) {
    case "call_pays":
      return peopleAt("answered", finding.stepId);
    case "group_differs":
      return shown("who");
    case "time_differs":
      return shown("hours");
    case "many_bounce":
      return peopleAt("bounced", null);
    case "many_opt_out":
      return peopleAt("optedOut", null);
    case "step_silent":
      return `/sequences/${id}?step=${finding.stepId}`;
    case "wordings_alike":
      return `/sequences/${id}?step=${finding.step.stepId}`;
    case "wording_better":
      return `/sequences/${id}?step=${finding.step.stepId}&keep=${finding.step.wordings[finding.best]?.id ?? ""}`;
    case "end_early":
      return `/sequences/${id}?end_after=${finding.after}`;
    case "wordings_open":
      return null;
  }
}
