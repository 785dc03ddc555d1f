import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useFetcher } from "react-router";
import { webApp } from "../../../server/app";
import { latestOf } from "../../../server/jobs/job-state";
import {
  askDuplicates,
  type DuplicatePair,
  decideDuplicate,
  openDuplicates,
  type Side,
} from "../../../server/prospects/duplicates/duplicates";
import { userContext } from "../../accounts/session";
import { Empty, MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { count, STAGE_NAMES } from "../../components/words";
import { readForm } from "../../desk/read-form";
import { JobProgress } from "../job-progress";
import { ListQuality } from "../list-margin";
import { ListTabs } from "../list-tabs";
import { requireList } from "../require-list";
import { DUPLICATE_WORDS, VERDICT_NAMES, VERDICT_TONES } from "../words";
import type { Route } from "./+types/list-duplicates";

export function loader({ params }: Route.LoaderArgs) {
  const app = webApp();
  const { list, state } = requireList(app, params.id);
  return { list, state, ...openDuplicates(app, list.id), job: latestOf(app, "duplicates") };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const userId = context.get(userContext).id;
  const form = await readForm(request);
  if (form.intent === "look") {
    askDuplicates(app, userId);
    return {};
  }
  const decided = decideDuplicate(app, context.get(userContext), form);
  return decided.ok ? {} : { errors: decided.errors };
}

export default function DuplicatesPage({ loaderData }: Route.ComponentProps) {
  const { list, state, pairs, total, byRule, job } = loaderData;
  const look = useFetcher();
  return (
    <Page
      heading={
        total === 0
          ? `Nobody on “${list.name}” seems to be there twice`
          : `${count(total, "pair")} on “${list.name}” may be the same`
      }
      sub={
        total > 0
          ? "The side you keep gets the other's history, lists, notes and blanks. If either is blocked, both are."
          : undefined
      }
      actions={
        <look.Form method="post">
          <Button
            type="submit"
            name="intent"
            value="look"
            disabled={job?.state === "working" || job?.state === "waiting"}
          >
            Look through everybody again
          </Button>
        </look.Form>
      }
      margin={
        <>
          <MarginNote title="What is merged by itself">
            <Typography>
              The same name at the same company, where one of the two has no address; the same profile; a
              company that is known by name only. {count(byRule, "pair")} so far. Two addresses are always
              yours to decide.
            </Typography>
          </MarginNote>
          <ListQuality state={state} title={`“${list.name}”`} />
        </>
      }
    >
      <ListTabs list={list} state={state} />
      <JobProgress job={job} doing="Looking for duplicates" unit="people" onlyWhileRunning />
      {pairs.map((pair) => (
        <Pair key={pair.id} pair={pair} />
      ))}
      {total > pairs.length && (
        <Typography color="textSecondary">{count(total - pairs.length, "more pair")} after these.</Typography>
      )}
      {total === 0 && (
        <Empty
          title="Nothing to decide"
          text="Duplicates are looked for after every import. When two entries may be one person or one company, they stand here side by side."
        />
      )}
    </Page>
  );
}

const ROWS: [keyof Side, string][] = [
  ["email", "Address"],
  ["title", "Job title"],
  ["company", "Company"],
  ["city", "City"],
  ["phone", "Phone"],
  ["lists", "Lists"],
];

function Pair({ pair }: { pair: DuplicatePair }) {
  const decide = useFetcher<{ errors?: Record<string, string> }>();
  const busy = decide.state !== "idle";
  const rows =
    pair.kind === "person"
      ? ROWS
      : ([
          ["email", "Web domain"],
          ["title", "People"],
        ] as [keyof Side, string][]);
  return (
    <Box
      component={decide.Form}
      method="post"
      aria-label={`${pair.a.name} and ${pair.b.name}`}
      data-row
      sx={{
        bgcolor: "background.paper",
        border: "1px solid",
        borderColor: "divider",
        borderRadius: 1,
        p: 2,
        mb: 2,
      }}
    >
      <input type="hidden" name="id" value={pair.id} />
      {decide.data?.errors && (
        <Alert severity="error" sx={{ mb: 1 }}>
          {Object.values(decide.data.errors)[0]}
        </Alert>
      )}
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Pill tone="ochre">{pair.kind === "person" ? "One person?" : "One company?"}</Pill>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {DUPLICATE_WORDS[pair.reason] ?? pair.reason}
          {pair.kind === "person" ? " at one company" : ", two web domains"}
        </Typography>
        <Button type="submit" size="small" disabled={busy}>
          They are two
        </Button>
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "90px 1fr 1fr", columnGap: 2, rowGap: 0.4 }}>
        <span />
        {[pair.a, pair.b].map((side) => (
          <Typography key={side.id} sx={{ fontWeight: 650 }}>
            {pair.kind === "person" ? (
              <Link to={`/prospects/${side.id}`}>{side.name || side.email}</Link>
            ) : (
              side.name
            )}
          </Typography>
        ))}
        {rows.map(([field, label]) => (
          <Row key={field} label={label} a={String(pair.a[field] ?? "")} b={String(pair.b[field] ?? "")} />
        ))}
        {pair.kind === "person" && (
          <>
            <Typography variant="body2" color="textSecondary">
              So far
            </Typography>
            {[pair.a, pair.b].map((side) => (
              <Typography key={side.id} variant="body2">
                {STAGE_NAMES[side.stage]} · {count(side.sent, "email")} sent ·{" "}
                {count(side.replies, "reply", "replies")}{" "}
                {side.verdict && (
                  <Pill tone={VERDICT_TONES[side.verdict] ?? "quiet"}>{VERDICT_NAMES[side.verdict]}</Pill>
                )}{" "}
                {side.blocked === 1 && <Pill tone="clay">Blocked</Pill>}
              </Typography>
            ))}
          </>
        )}
        <span />
        {[pair.a, pair.b].map((side) => (
          <Box key={side.id} sx={{ mt: 1 }}>
            <Button type="submit" size="small" disabled={busy} name="keepId" value={side.id}>
              Keep {side.email || side.name}
            </Button>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function Row({ label, a, b }: { label: string; a: string; b: string }) {
  if (a === "" && b === "") return null;
  const differs = a !== b;
  return (
    <>
      <Typography variant="body2" color="textSecondary">
        {label}
      </Typography>
      {(
        [
          ["left", a],
          ["right", b],
        ] as const
      ).map(([side, value]) => (
        <Typography
          key={side}
          variant="body2"
          sx={{
            bgcolor: differs ? "ochre.wash" : undefined,
            px: differs ? 0.75 : 0,
            borderRadius: 0.5,
            wordBreak: "break-word",
            justifySelf: "start",
          }}
        >
          {value || "–"}
        </Typography>
      ))}
    </>
  );
}
