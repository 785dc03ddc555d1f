/** One rule: what it says, what it would have done, and what it did. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { data, Link, redirect } from "react-router";
import type { Rule } from "../../../core/rules/rule";
import { RULE_EXAMPLES } from "../../../core/rules/shelf";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { type Outcome, whenDone } from "../../../server/errors";
import { allFilters } from "../../../server/prospects/filters/filters";
import { fieldChoices } from "../../../server/prospects/forms/forms";
import { allLabels } from "../../../server/replies/labels";
import {
  type Rehearsed,
  type RunLine,
  rehearseRule,
  removeRule,
  ruleChoices,
  rulesSeenBy,
  runsOf,
  saveRule,
  switchRule,
  takeBackRun,
} from "../../../server/rules/rules";
import { sequenceChoicesWithSteps } from "../../../server/sequences/add-people";
import { userContext } from "../../accounts/session";
import { CopiedText } from "../../components/copied-text";
import { MarginNote, Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { PlainSelect } from "../../components/plain-select";
import { PlainTextField } from "../../components/plain-text-field";
import { Refusal } from "../../components/refusal";
import { Row } from "../../components/row";
import { useAction, useQuestion } from "../../components/use-action";
import { count, dayTime, when as whenWords } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { readJson, unknownIntent } from "../../desk/read-form";
import { namedFields } from "../field-choices";
import { FilterSelect } from "../filter-select";
import { newStep, StepFields } from "../step-fields";
import { WhenFields } from "../when-fields";
import type { Route } from "./+types/rule";
import { RULE_STATES } from "./rules";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: ["events"] } satisfies PageHandle;

const EMPTY: Rule = { when: { kind: "stage", to: "won" }, filter: "", isOnce: false, steps: [newStep()] };

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const stored = rulesSeenBy(app, user.id).find(({ id }) => String(id) === params.id) ?? null;
  if (params.id !== "new" && !stored) throw data("This rule does not exist, or no longer.", { status: 404 });
  const example = RULE_EXAMPLES[Number(new URL(request.url).searchParams.get("from") ?? Number.NaN)];
  return {
    stored,
    begins: { name: stored?.name ?? example?.name ?? "", rule: stored?.rule ?? example?.rule ?? EMPTY },
    mayChange: !stored || mayNot(app, user.id, "rule.change", stored.id) === null,
    runs: stored ? runsOf(app, stored.id) : [],
    address: stored?.address ? `${app.config.url}/hook/${stored.address}` : null,
    names: {
      ...ruleChoices(app, user.id),
      sequences: sequenceChoicesWithSteps(app, user.id),
      labels: allLabels(app.db).map(({ code, name }) => ({ code, name })),
      fields: namedFields(fieldChoices(app)).filter(({ name }) => name !== "email"),
    },
    filters: allFilters(app, user.id),
    zone: user.zone,
    now: app.clock.now(),
  };
}

interface Said {
  words?: string;
  rehearsed?: Rehearsed;
}

export async function action({ params, request, context }: Route.ActionArgs): Promise<Outcome<Said>> {
  const app = webApp();
  const user = context.get(userContext);
  const body = await readJson(request);
  const id = params.id === "new" ? null : Number(params.id);
  const said = (outcome: Outcome<unknown>, words: string) => whenDone(outcome, (): Said => ({ words }));
  switch (body.intent) {
    case "rehearse":
      return whenDone(rehearseRule(app, user.id, body.rule), (rehearsed): Said => ({ rehearsed }));
    case "save": {
      const saved = saveRule(app, user.id, id, body);
      if (saved.ok && id === null) throw redirect(`/connections/rules/${saved.value}`);
      return said(saved, "Saved. It is off until you switch it on.");
    }
    case "on":
    case "off":
      return said(
        switchRule(app, user.id, id ?? 0, body.intent === "on"),
        body.intent === "on" ? "It is on, and minds what happens from now." : "It is off.",
      );
    case "take_back":
      return said(takeBackRun(app, user, Number(body.run)), "Taken back.");
    case "remove": {
      const removed = removeRule(app, user.id, id ?? 0);
      if (removed.ok) throw redirect("/connections/rules");
      return whenDone(removed, () => ({}));
    }
    default:
      return unknownIntent(body.intent);
  }
}

/** Between the last key and the question what it would have done. */
const ASKED_AFTER = 400;

export default function RulePage({ loaderData, params }: Route.ComponentProps) {
  const { stored } = loaderData;
  // Another rule is another page.
  return <RuleDesk key={`${params.id} ${JSON.stringify(stored?.rule)}`} {...loaderData} />;
}

function RuleDesk(props: Route.ComponentProps["loaderData"]) {
  const { stored, begins, mayChange, runs, address, names, filters, zone, now } = props;
  const [name, setName] = useState(begins.name);
  const [rule, setRule] = useState(begins.rule);
  const act = useAction<Said>({ as: "json" });
  const { ask, value: answered, errors: wrong } = useQuestion<Said>({ as: "json" });
  useEffect(() => {
    const timer = setTimeout(() => ask({ intent: "rehearse", rule }), ASKED_AFTER);
    return () => clearTimeout(timer);
  }, [ask, rule]);
  const isChanged = name !== begins.name || JSON.stringify(rule) !== JSON.stringify(begins.rule);
  const change = (part: Partial<Rule>) => setRule((before) => ({ ...before, ...part }));
  const rehearsed = Object.keys(wrong).length === 0 ? answered?.rehearsed : undefined;
  const [tone, words] = stored ? RULE_STATES[stored.state] : (["quiet", "not saved yet"] as const);
  return (
    <Page
      heading={
        !stored
          ? "A new rule"
          : stored.state === "held"
            ? `“${stored.name}” holds until somebody looks`
            : stored.state === "on"
              ? stored.runs === 0
                ? `“${stored.name}” is on, and was not set off so far`
                : `“${stored.name}” acted ${count(stored.runs, "time")} in 30 days`
              : `“${stored.name}” is off`
      }
      sub={
        <>
          <Pill tone={tone}>{words}</Pill>{" "}
          {stored?.heldBecause ??
            (stored ? stored.owner : "Nothing happens before it is saved and switched on.")}
        </>
      }
      actions={
        mayChange ? (
          <>
            {stored && (
              <Button
                type="button"
                disabled={act.isBusy || isChanged}
                variant={stored.state === "on" || isChanged ? "outlined" : "contained"}
                onClick={() => act.press({ intent: stored.state === "on" ? "off" : "on" })}
              >
                {stored.state === "on" ? "Switch off" : "Switch on"}
              </Button>
            )}
            <Button
              type="button"
              disabled={act.isBusy || (stored !== null && !isChanged)}
              variant={!stored || isChanged ? "contained" : "outlined"}
              onClick={() => act.press({ intent: "save", name, rule })}
            >
              Save
            </Button>
          </>
        ) : undefined
      }
      margin={<WouldHave rehearsed={rehearsed} problem={Object.values(wrong)[0] ?? null} zone={zone} />}
    >
      <Typography sx={{ mb: 2 }}>
        <Link to="/connections/rules">‹ All rules</Link>
      </Typography>
      <Refusal errors={act.errors} />
      {act.value?.words && (
        <Alert severity="success" sx={{ mb: 2 }}>
          {act.value.words}
        </Alert>
      )}
      <Box
        component="fieldset"
        disabled={!mayChange}
        sx={{ border: 0, p: 0, m: 0, minWidth: 0, display: "grid", gap: 2.5, maxWidth: 820 }}
      >
        <PlainTextField
          label="Name"
          value={name}
          onChange={({ target }) => setName(target.value)}
          sx={{ maxWidth: 420 }}
        />
        <Box>
          <Typography variant="h2" sx={{ mb: 1 }}>
            When
          </Typography>
          <WhenFields when={rule.when} names={names} onChange={(when) => change({ when })} />
          {address && rule.when.kind === "called" && (
            <Box sx={{ mt: 1.5 }}>
              <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
                Its address; whoever has it can call it.
              </Typography>
              <CopiedText text={address} label="The rule's address" />
            </Box>
          )}
        </Box>
        <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap" }}>
          <FilterSelect
            label="For whom"
            known={begins.rule.filter}
            value={rule.filter}
            filters={filters}
            onChange={(filter) => change({ filter })}
            sx={{ flex: "1 1 240px", maxWidth: 420 }}
          />
          <PlainSelect
            label="How often"
            value={rule.isOnce ? "once" : "each"}
            options={[
              ["each", "each time"],
              ["once", "once for each person"],
            ]}
            onChange={(how) => change({ isOnce: how === "once" })}
            sx={{ width: 210 }}
          />
        </Box>
        <Box sx={{ display: "grid", gap: 1.5 }}>
          <Typography variant="h2">Then</Typography>
          {rule.steps.map((step, nth) => (
            <StepFields
              // biome-ignore lint/suspicious/noArrayIndexKey: an act is its place in the order
              key={nth}
              nth={nth}
              step={step}
              names={names}
              onChange={(changed) => change({ steps: rule.steps.with(nth, changed) })}
              onRemove={
                rule.steps.length > 1 ? () => change({ steps: rule.steps.toSpliced(nth, 1) }) : undefined
              }
            />
          ))}
          {rule.steps.length < 10 && (
            <Box>
              <Button
                size="small"
                type="button"
                onClick={() => change({ steps: [...rule.steps, newStep()] })}
              >
                Add an act
              </Button>
            </Box>
          )}
        </Box>
      </Box>
      {stored && (
        <Box sx={{ mt: 4, maxWidth: 820 }}>
          <Typography variant="h2" sx={{ mb: 1 }}>
            {runs.length === 0 ? "It has not acted yet" : "What it did last"}
          </Typography>
          {runs.map((run) => (
            <RunRow
              key={run.id}
              run={run}
              now={now}
              zone={zone}
              onTakeBack={
                mayChange && run.canUndo ? () => act.press({ intent: "take_back", run: run.id }) : undefined
              }
            />
          ))}
          {mayChange && (
            <Button
              color="error"
              type="button"
              sx={{ mt: 3 }}
              disabled={stored.state === "on"}
              onClick={() => act.press({ intent: "remove" })}
            >
              Remove this rule and its log
            </Button>
          )}
        </Box>
      )}
    </Page>
  );
}

/** The margin: what it would have done. */
function WouldHave({
  rehearsed,
  problem,
  zone,
}: {
  rehearsed: Rehearsed | undefined;
  problem: string | null;
  zone: string;
}) {
  return (
    <MarginNote title="Before it is switched on">
      {problem !== null && <Typography color="textSecondary">Not complete yet: {problem}</Typography>}
      {problem === null && !rehearsed && (
        <Typography color="textSecondary">Looking through the last 30 days …</Typography>
      )}
      {rehearsed && rehearsed.times === null && (
        <Typography>When another program calls it, nobody here can tell beforehand.</Typography>
      )}
      {rehearsed && rehearsed.times !== null && (
        <>
          <Typography role="status">
            {rehearsed.times === 0
              ? `In the last ${rehearsed.days} days nothing would have set it off.`
              : `In the last ${rehearsed.days} days it would have acted ${count(rehearsed.times, "time")}, on ${count(rehearsed.people, "person", "people")}.`}
          </Typography>
          {rehearsed.named.slice(0, 12).map(({ prospectId, name, company, at }, nth) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the same person can stand here twice
            <Row key={nth} sx={{ py: 0.75, gap: 1 }}>
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Link to={`/prospects/${prospectId}`}>{name}</Link>
                {company && `, ${company}`}
              </Box>
              <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
                {dayTime(at, zone)}
              </Typography>
            </Row>
          ))}
          {rehearsed.named.length > 12 && (
            <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
              and {rehearsed.times - 12} more
            </Typography>
          )}
        </>
      )}
    </MarginNote>
  );
}

const RUN_STATES = {
  going: ["ochre", "under way"],
  done: ["kelp", "done"],
  stopped: ["clay", "stopped"],
  taken_back: ["quiet", "taken back"],
} as const;

function RunRow({
  run,
  now,
  zone,
  onTakeBack,
}: {
  run: RunLine;
  now: number;
  zone: string;
  onTakeBack: (() => void) | undefined;
}) {
  const { prospectId, name, because, at, state, acts } = run;
  const [tone, words] = RUN_STATES[state];
  return (
    <Row
      columns={{ xs: "1fr", sm: "120px minmax(0, 1fr) auto" }}
      sx={{ alignItems: "start", py: 1 }}
      data-row
    >
      <Typography variant="body2" color="textSecondary">
        {whenWords(at, now, zone)}
      </Typography>
      <Box sx={{ minWidth: 0 }}>
        <Typography>
          <Link to={`/prospects/${prospectId}`}>{name}</Link>, since {because}
        </Typography>
        {acts.map((each) => (
          <Typography
            key={each.nth}
            variant="body2"
            color={each.state === "refused" ? "error" : "textSecondary"}
          >
            {each.state === "due" ? `comes ${whenWords(each.dueAt, now, zone)}` : each.said}
          </Typography>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Pill tone={tone}>{words}</Pill>
        {onTakeBack && (
          <Button
            size="small"
            type="button"
            onClick={onTakeBack}
            aria-label={`Take back what was done for ${name}`}
          >
            Take back
          </Button>
        )}
      </Box>
    </Row>
  );
}
