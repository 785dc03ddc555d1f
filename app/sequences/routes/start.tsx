import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MuiLink from "@mui/material/Link";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, useSearchParams } from "react-router";
import { everyStep } from "../../../core/sequence/path";
import { LEFT_OUT, STANDINGS, type Standing, WAITING } from "../../../core/sequence/standing";
import { webApp } from "../../../server/app";
import { fillField } from "../../../server/prospects/people/save-prospect";
import { approveBefore, dropOwnText, sendTest, writeOwnText } from "../../../server/sequences/before-start";
import { checkSequence } from "../../../server/sequences/check-sequence";
import { mailboxChoices, sequenceOf } from "../../../server/sequences/open-sequence";
import { previewFor } from "../../../server/sequences/preview-step";
import { START_PAGE, startCheck, startPeople } from "../../../server/sequences/start-check";
import { startSequence } from "../../../server/sequences/start-sequence";
import { userContext } from "../../accounts/session";
import { Confirm } from "../../components/dialogs";
import { Key } from "../../components/key";
import { MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Pill } from "../../components/pill";
import { count } from "../../components/words";
import { useInTurn } from "../../desk/in-turn";
import { useKeys } from "../../desk/keys";
import { readJson, readPage, unknownIntent } from "../../desk/read-form";
import { Letter } from "../step-preview";
import type { Route } from "./+types/start";

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const sequence = sequenceOf(app, context.get(userContext).id, Number(params.id));
  if (!sequence || sequence.deletedAt !== null)
    throw data("This sequence does not exist, or no longer.", { status: 404 });
  const query = new URL(request.url).searchParams;
  const standing = STANDINGS.find((each) => each === query.get("standing")) ?? null;
  const page = readPage(query);
  const people = startPeople(app, sequence, standing, page);
  const { problems, start } = checkSequence(app, sequence);
  const personId = Number(query.get("person")) || (people[0]?.id ?? null);
  const steps = everyStep(sequence.path).map(({ id, name, kind }) => ({ id, name, kind }));
  const stepId = steps.find(({ id }) => id === query.get("step"))?.id ?? steps[0]?.id ?? "";
  return {
    id: sequence.id,
    name: sequence.name,
    version: sequence.version,
    state: sequence.state,
    listId: sequence.listId,
    approval: sequence.settings.approval,
    hours: sequence.hours,
    mailboxes: mailboxChoices(app, context.get(userContext).id).filter(({ id }) =>
      sequence.mailboxIds.includes(id),
    ),
    problems,
    check: startCheck(app, sequence, start),
    standing,
    page,
    pageSize: START_PAGE,
    people,
    steps,
    stepId,
    preview: personId === null ? null : previewFor(app, sequence, stepId, personId),
    personId,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const body = await readJson(request);
  const id = Number(params.id);
  const user = context.get(userContext);
  const sequence = sequenceOf(app, user.id, id);
  if (!sequence) return { kind: "refused" as const, errors: { form: "This sequence no longer exists." } };
  const ofPerson = { stepId: String(body.stepId ?? ""), prospectId: Number(body.prospectId) };
  const answer = (outcome: { ok: boolean; errors?: Record<string, string> }, words: string) =>
    outcome.ok
      ? { kind: "done" as const, words }
      : { kind: "refused" as const, errors: outcome.errors ?? {} };
  switch (body.intent) {
    case "start": {
      const leaveOut = Array.isArray(body.leaveOut) ? body.leaveOut.map(Number) : [];
      const started = startSequence(app, user.id, id, leaveOut);
      return started.ok
        ? { kind: "started" as const, report: started.value }
        : { kind: "refused" as const, errors: started.errors };
    }
    case "fill":
      return answer(
        fillField(app, user.id, {
          prospectId: ofPerson.prospectId,
          field: String(body.field),
          value: String(body.value ?? ""),
        }),
        "Filled in.",
      );
    case "own":
      return answer(
        writeOwnText(app, user.id, id, { ...ofPerson, subject: body.subject, body: body.body }),
        "Written for this one.",
      );
    case "drop_own":
      return answer(dropOwnText(app, user.id, id, ofPerson), "Back to the sequence's words.");
    case "approve": {
      const said = approveBefore(app, user.id, sequence, body.all === true ? "all" : [ofPerson.prospectId]);
      return answer(said, said.ok ? `You said yes to ${count(said.value, "first email")}.` : "");
    }
    case "test": {
      const sent = sendTest(app, user, sequence, ofPerson.stepId, ofPerson.prospectId);
      return sent.ok
        ? { kind: "done" as const, words: `A test is on its way to ${sent.value}.` }
        : { kind: "refused" as const, errors: sent.errors };
    }
    default:
      return unknownIntent(body.intent);
  }
}

/** What is said of people in each standing, and what repairs it. */
const WORDS: Record<
  Standing,
  { waits: string; pill: string; tone: "tile" | "ochre" | "clay" | "quiet" | "kelp" }
> = {
  ready: { waits: "go now", pill: "", tone: "tile" },
  no_address: { waits: "have no address", pill: "no address", tone: "clay" },
  address_not_good: { waits: "have an address that is not good", pill: "not good", tone: "ochre" },
  held: { waits: "are paused, away, or a colleague of theirs answered", pill: "held", tone: "ochre" },
  lacks_field: { waits: "lack what the text needs", pill: "fill in", tone: "clay" },
  already: { waits: "had this sequence before", pill: "had it", tone: "quiet" },
  elsewhere: { waits: "are on another sequence", pill: "elsewhere", tone: "quiet" },
  blocked: { waits: "are on the block list", pill: "blocked", tone: "quiet" },
  address_bad: { waits: "have a bad address", pill: "bad address", tone: "quiet" },
  written_lately: { waits: "were written to in the last 30 days", pill: "written lately", tone: "quiet" },
};
const COLORS: Record<string, { bgcolor: string; color: string }> = {
  tile: { bgcolor: "tile.main", color: "#fff" },
  ochre: { bgcolor: "ochre.wash", color: "ochre.text" },
  clay: { bgcolor: "clay.wash", color: "clay.main" },
  quiet: { bgcolor: "divider", color: "text.secondary" },
};
/** More than this asks for a second look. */
const MANY = 200;

export default function StartPage({ loaderData, params }: Route.ComponentProps) {
  const { check, people, preview, steps, stepId, personId, problems, mailboxes } = loaderData;
  const [, setQuery] = useSearchParams();
  const act = useInTurn<typeof action>();
  // With how they stand: whoever is on another page of the list counts, too.
  const [leaveOut, setLeaveOut] = useState<ReadonlyMap<number, Standing>>(new Map());
  const [confirming, setConfirming] = useState(false);
  const { counts } = check;
  const listed = loaderData.standing
    ? counts[loaderData.standing]
    : STANDINGS.reduce((sum, each) => sum + counts[each], 0);
  const waiting = WAITING.reduce((sum, each) => sum + counts[each], 0);
  const left = LEFT_OUT.reduce((sum, each) => sum + counts[each], 0);
  const skipped = [...leaveOut.values()].filter((standing) => !LEFT_OUT.includes(standing));
  const starting = Math.max(0, counts.ready + waiting - skipped.length);
  const goingNow = Math.max(0, counts.ready - skipped.filter((standing) => standing === "ready").length);
  const submit = (intent: string, more: Record<string, unknown> = {}) =>
    act.submit(JSON.stringify({ intent, stepId, prospectId: personId, ...more }), {
      method: "post",
      encType: "application/json",
    });
  const choose = (changes: Record<string, string | null>) =>
    setQuery(
      (before) => {
        for (const [name, value] of Object.entries(changes))
          if (value === null) before.delete(name);
          else before.set(name, value);
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  const at = people.findIndex(({ id }) => id === personId);
  const turn = (by: number) => {
    const next = people[at + by];
    if (next) choose({ person: String(next.id) });
  };
  useKeys((key) => {
    if (key === "j") turn(1);
    else if (key === "k") turn(-1);
    else if (key === "x" && personId !== null) toggle(personId);
    else return false;
    return true;
  });
  const toggle = (id: number) =>
    setLeaveOut((before) => {
      const after = new Map(before);
      const standing = people.find((person) => person.id === id)?.standing;
      if (!after.delete(id) && standing) after.set(id, standing);
      return after;
    });
  const done = act.state === "idle" ? act.data : undefined;
  const aDay = mailboxes
    .filter(({ state }) => state === "active")
    .reduce((sum, { dailyLimit }) => sum + dailyLimit, 0);
  const start = () =>
    starting > MANY ? setConfirming(true) : submit("start", { leaveOut: [...leaveOut.keys()] });

  const heading =
    done?.kind === "started"
      ? `Started for ${count(done.report.started, "prospect")}`
      : counts.ready + waiting === 0
        ? "Nobody is left to start"
        : waiting === 0
          ? `${counts.ready} can start`
          : `${counts.ready} can start. ${waiting} ${waiting === 1 ? "waits" : "wait"}, and each for a reason.`;
  return (
    <Page
      heading={heading}
      sub={
        <>
          <Link to={`/sequences/${params.id}`}>{loaderData.name}</Link>, version {loaderData.version} ·{" "}
          {count(mailboxes.length, "mailbox", "mailboxes")}, {aDay} a day
        </>
      }
      actions={
        <>
          <Button onClick={() => submit("test")} disabled={personId === null || act.state !== "idle"}>
            Test to myself
          </Button>
          <Button
            variant="contained"
            disabled={starting === 0 || problems.length > 0 || act.state !== "idle"}
            onClick={start}
          >
            {goingNow > 0
              ? `Start for ${goingNow}`
              : starting > 0
                ? `Start, and all ${starting} wait`
                : "Start"}
          </Button>
        </>
      }
      margin={
        <>
          <MarginNote title="Who waits, and for what">
            {waiting === 0 && <Typography>Nobody waits.</Typography>}
            {WAITING.filter((each) => counts[each] > 0).map((standing) => (
              <Reason
                key={standing}
                number={counts[standing]}
                words={
                  standing === "lacks_field"
                    ? `have no ${check.lacking.map(({ field }) => field.replaceAll("_", " ")).join(" or ")}`
                    : WORDS[standing].waits
                }
                repair={
                  standing === "address_not_good" || standing === "no_address"
                    ? {
                        to: `/lists/${loaderData.listId}/addresses`,
                        label: standing === "address_not_good" ? "Verify or allow" : "Find them",
                      }
                    : {
                        to: `?standing=${standing}`,
                        label: standing === "lacks_field" ? "Fill in" : "See them",
                      }
                }
              />
            ))}
          </MarginNote>
          {left > 0 && (
            <MarginNote title="Left out">
              {LEFT_OUT.filter((each) => counts[each] > 0).map((standing) => (
                <Reason
                  key={standing}
                  number={counts[standing]}
                  words={WORDS[standing].waits}
                  repair={{ to: `?standing=${standing}`, label: "See them" }}
                />
              ))}
            </MarginNote>
          )}
          {counts.address_not_good > 0 && (
            <MarginNote title="Unproven addresses">
              <Typography>
                A server has to confirm an address, or its owner to write, before it counts as good. Most
                unproven ones are right; every tenth may bounce. To write to them too, let the sequence write
                to unproven addresses under “Who, when, from where”.
              </Typography>
            </MarginNote>
          )}
          <MarginNote title="When you start">
            <Typography>
              {counts.ready === 0
                ? "Nothing leaves until somebody stops waiting."
                : aDay === 0
                  ? "No mailbox sends now: nothing leaves until one does."
                  : `The first leave in the coming hours between ${loaderData.hours.opens} and ${loaderData.hours.closes} where they are. ${aDay} a day: the last of the first emails in about ${count(Math.ceil(counts.ready / aDay), "working day")}.`}
            </Typography>
            {waiting > 0 && (
              <Typography sx={{ mt: 1 }}>
                {waiting === 1 ? "The one who waits starts" : `The ${waiting} who wait start`} too, and{" "}
                {waiting === 1 ? "goes" : "go"} by {waiting === 1 ? "itself" : "themselves"} once the reason
                is gone.
              </Typography>
            )}
            {loaderData.approval !== "none" && (
              <Typography sx={{ mt: 1 }}>
                Emails wait on Today for your yes, unless you give it here.
              </Typography>
            )}
          </MarginNote>
        </>
      }
    >
      {problems.length > 0 && (
        <Alert severity="error" sx={{ mb: 1.5 }}>
          {problems.map(({ message }) => message).join(" ")}{" "}
          <Link to={`/sequences/${params.id}`}>Mend it</Link>
        </Alert>
      )}
      {done?.kind === "refused" && (
        <Alert severity="error" sx={{ mb: 1.5 }}>
          {Object.values(done.errors).join(" ")}
        </Alert>
      )}
      {done?.kind === "done" && (
        <Alert severity="success" sx={{ mb: 1.5 }}>
          {done.words}
        </Alert>
      )}
      {done?.kind === "started" && (
        <Alert severity="success" sx={{ mb: 1.5 }}>
          Started for {count(done.report.started, "prospect")}. <Link to="/sending">Sending</Link> shows who
          gets it when, <Link to={`/sequences/${params.id}/people`}>People</Link> where everybody is.
        </Alert>
      )}
      <Bar counts={counts} />
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "252px minmax(0, 1fr)" },
          gap: 2.5,
        }}
      >
        <Box>
          <Box sx={{ display: "flex", mb: 0.5 }}>
            <Typography variant="label" color="textSecondary" component="h2" sx={{ flex: 1 }}>
              {loaderData.standing ? WORDS[loaderData.standing].waits : "As each one reads it"}
            </Typography>
            {loaderData.standing ? (
              <MuiLink component={Link} to="?" variant="body2">
                Everybody
              </MuiLink>
            ) : (
              <Typography variant="body2" color="textSecondary">
                problems first
              </Typography>
            )}
          </Box>
          <Box
            component="ul"
            aria-label="People"
            sx={{
              listStyle: "none",
              m: 0,
              p: 0,
              maxHeight: { xs: 220, sm: "none" },
              overflowY: { xs: "auto", sm: "visible" },
            }}
          >
            {people.map((person) => (
              <PersonRow
                key={person.id}
                person={person}
                selected={person.id === personId}
                isLeftOut={leaveOut.has(person.id)}
                onSelect={() => choose({ person: String(person.id) })}
              />
            ))}
            {people.length === 0 && (
              <Typography color="textSecondary" component="li">
                {loaderData.listId === null ? (
                  <Link to={`/sequences/${loaderData.id}?show=settings`}>Choose a list first</Link>
                ) : (
                  "Nobody here."
                )}
              </Typography>
            )}
          </Box>
          <Pager page={loaderData.page} pageSize={loaderData.pageSize} total={listed} />
        </Box>
        <Box>
          <Box
            sx={{
              bgcolor: "background.paper",
              border: "1px solid",
              borderColor: "divider",
              borderRadius: 1,
              p: 2.25,
            }}
          >
            {preview ? (
              <>
                <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 0.5 }}>
                  <Typography sx={{ flex: 1 }} noWrap>
                    To <strong>{preview.prospect?.name}</strong>
                    {preview.prospect?.company && `, ${preview.prospect.company}`}{" "}
                    <Box component="span" sx={{ color: "text.secondary" }}>
                      from {preview.from}
                    </Box>
                  </Typography>
                  <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
                    {loaderData.page * loaderData.pageSize + at + 1} of {listed} <Key>K</Key> <Key>J</Key>
                  </Typography>
                </Box>
                <Letter preview={preview} />
                <PersonActions
                  key={`${personId} ${stepId}`}
                  preview={preview}
                  isEmail={steps.find(({ id }) => id === stepId)?.kind.endsWith("email") ?? false}
                  person={people[at]}
                  isLeftOut={personId !== null && leaveOut.has(personId)}
                  asksYes={loaderData.approval !== "none"}
                  ready={counts.ready}
                  onSubmit={submit}
                  onToggle={() => personId !== null && toggle(personId)}
                />
              </>
            ) : (
              <Typography color="textSecondary">Choose somebody to read what they will get.</Typography>
            )}
          </Box>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", mt: 1.5 }}>
            {steps.map(({ id, name }, index) => (
              <Button
                key={id}
                size="small"
                onClick={() => choose({ step: id })}
                sx={id === stepId ? { fontWeight: 700 } : { color: "text.secondary" }}
                aria-pressed={id === stepId}
              >
                {index + 1} {name}
              </Button>
            ))}
          </Box>
        </Box>
      </Box>
      <Confirm
        open={confirming}
        title={`Start for ${starting} people?`}
        keep="Read some more"
        act={`Start for ${starting}`}
        onClose={() => setConfirming(false)}
        onAct={() => {
          setConfirming(false);
          submit("start", { leaveOut: [...leaveOut.keys()] });
        }}
      >
        {counts.ready} go now, {waiting} start and wait. An email that has left cannot be called back; have
        you read a few of them?
      </Confirm>
    </Page>
  );
}

/** Everybody as one bar: who goes now, who waits for what. */
function Bar({ counts }: { counts: Record<Standing, number> }) {
  const parts = (["ready", ...WAITING, ...LEFT_OUT] as Standing[]).filter((each) => counts[each] > 0);
  const all = parts.reduce((sum, each) => sum + counts[each], 0);
  if (all === 0) return null;
  return (
    <Box
      sx={{ display: "flex", gap: "2px", borderRadius: 1, overflow: "hidden", mb: 2, height: 34 }}
      aria-hidden
    >
      {parts.map((standing) => {
        const { tone, waits, pill } = WORDS[standing];
        const share = counts[standing] / all;
        return (
          <Box
            key={standing}
            title={`${counts[standing]} ${waits}`}
            sx={{
              ...COLORS[tone],
              flex: `${Math.max(share, 0.035)} 1 0`,
              px: 1.25,
              display: "flex",
              alignItems: "center",
              fontSize: 13,
              fontWeight: 650,
              whiteSpace: "nowrap",
              overflow: "hidden",
            }}
          >
            {counts[standing]}
            {share > 0.12 && ` ${standing === "ready" ? "start now" : pill}`}
          </Box>
        );
      })}
    </Box>
  );
}

function Reason(props: { number: number; words: string; repair: { to: string; label: string } }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "38px minmax(0, 1fr) auto",
        gap: 1,
        py: 1,
        borderTop: "1px solid",
        borderColor: "divider",
        "&:first-of-type": { borderTop: 0, pt: 0 },
      }}
    >
      <Typography sx={{ fontWeight: 700, textAlign: "right" }}>{props.number}</Typography>
      <Typography>{props.words}</Typography>
      <Link to={props.repair.to}>{props.repair.label}</Link>
    </Box>
  );
}

function PersonRow(props: {
  person: { id: number; name: string; company: string; standing: Standing; isOwn: 0 | 1; isApproved: 0 | 1 };
  selected: boolean;
  isLeftOut: boolean;
  onSelect: () => void;
}) {
  const { person, selected, isLeftOut } = props;
  const words = WORDS[person.standing];
  const [tone, pill] = isLeftOut
    ? (["quiet", "left out by you"] as const)
    : person.standing !== "ready"
      ? ([words.tone, words.pill] as const)
      : person.isApproved === 1
        ? (["kelp", "you said yes"] as const)
        : person.isOwn === 1
          ? (["kelp", "yours, edited"] as const)
          : (["tile", ""] as const);
  return (
    <Box component="li">
      <Box
        component="button"
        type="button"
        aria-pressed={selected}
        onClick={props.onSelect}
        sx={{
          all: "unset",
          boxSizing: "border-box",
          width: "100%",
          cursor: "pointer",
          display: "flex",
          alignItems: "center",
          gap: 1,
          px: 1.5,
          py: 0.75,
          borderLeft: "3px solid",
          borderColor: selected ? "tile.main" : "transparent",
          ...(selected && { bgcolor: "background.paper" }),
          "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
        }}
      >
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography noWrap sx={{ fontWeight: 600, ...(isLeftOut && { textDecoration: "line-through" }) }}>
            {person.name}
          </Typography>
          <Typography variant="caption" color="textSecondary" component="div" noWrap>
            {person.company}
          </Typography>
        </Box>
        {pill !== "" && <Pill tone={tone}>{pill}</Pill>}
      </Box>
    </Box>
  );
}

function PersonActions(props: {
  preview: NonNullable<Awaited<ReturnType<typeof loader>>["preview"]>;
  isEmail: boolean;
  person: { id: number; standing: Standing; isOwn: 0 | 1; isApproved: 0 | 1 } | undefined;
  isLeftOut: boolean;
  asksYes: boolean;
  ready: number;
  onSubmit: (intent: string, more?: Record<string, unknown>) => void;
  onToggle: () => void;
}) {
  const { preview, person, onSubmit } = props;
  const { rendered } = preview;
  const [value, setValue] = useState("");
  const [own, setOwn] = useState<{ subject: string; body: string } | null>(null);
  const lacking = rendered && !rendered.ok && rendered.emptyField !== null ? rendered.emptyField : null;
  if (own)
    return (
      <Box sx={{ display: "grid", gap: 1.25, borderTop: "1px solid", borderColor: "divider", mt: 2, pt: 2 }}>
        <TextField
          label="Subject for this one"
          value={own.subject}
          onChange={({ target }) => setOwn({ ...own, subject: target.value })}
        />
        <TextField
          label="Text for this one"
          multiline
          minRows={6}
          value={own.body}
          onChange={({ target }) => setOwn({ ...own, body: target.value })}
          helperText="The signature and the line to opt out are added."
          sx={{ "& textarea": { typography: "letter" } }}
        />
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button
            variant="contained"
            onClick={() => {
              onSubmit("own", own);
              setOwn(null);
            }}
          >
            Keep for this one
          </Button>
          <Button onClick={() => setOwn(null)}>Leave it</Button>
        </Box>
      </Box>
    );
  return (
    <Box
      sx={{
        display: "flex",
        gap: 1,
        alignItems: "center",
        flexWrap: "wrap",
        borderTop: "1px solid",
        borderColor: "divider",
        mt: 2,
        pt: 1.75,
      }}
    >
      {lacking && (
        <>
          <TextField
            label={lacking.replaceAll("_", " ")}
            value={value}
            onChange={({ target }) => setValue(target.value)}
            onKeyDown={(event) => event.key === "Enter" && onSubmit("fill", { field: lacking, value })}
            sx={{ width: 190 }}
          />
          <Button onClick={() => onSubmit("fill", { field: lacking, value })} disabled={value.trim() === ""}>
            Fill in
          </Button>
        </>
      )}
      {props.isEmail &&
        (person?.isOwn === 1 ? (
          <Button onClick={() => onSubmit("drop_own")}>Back to the sequence's words</Button>
        ) : (
          <Button onClick={() => setOwn(preview.template ?? { subject: "", body: "" })}>
            Write this one by hand
          </Button>
        ))}
      {props.asksYes && props.isEmail && person?.standing === "ready" && (
        <>
          <Button onClick={() => onSubmit("approve")} disabled={person.isApproved === 1}>
            {person.isApproved === 1 ? "You said yes" : "Say yes"}
          </Button>
          <Button variant="text" onClick={() => onSubmit("approve", { all: true })}>
            Yes to all {props.ready}
          </Button>
        </>
      )}
      <Box sx={{ flex: 1 }} />
      <Button variant="text" onClick={props.onToggle} sx={{ color: "text.secondary" }}>
        {props.isLeftOut ? "Take in again" : "Leave out"}&nbsp; <Key>X</Key>
      </Button>
    </Box>
  );
}
