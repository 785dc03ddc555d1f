import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { data, Link } from "react-router";
import { webApp } from "../../../server/app";
import { type Outcome, refused, whenDone } from "../../../server/errors";
import { fillField } from "../../../server/prospects/people/save-prospect";
import { markRead } from "../../../server/research/column-values";
import { approveBefore, dropOwnText, sendTest, writeOwnText } from "../../../server/sequences/before-start";
import { sequenceForm, sequenceOf } from "../../../server/sequences/open-sequence";
import { saveSequence } from "../../../server/sequences/save-sequence";
import { startSequence } from "../../../server/sequences/start-sequence";
import { userContext } from "../../accounts/session";
import { Confirm } from "../../components/dialogs";
import { Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { count } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { AddressQuestion } from "../start/address-question";
import { PersonLetter } from "../start/person-letter";
import { StandingBar } from "../start/standing-bar";
import { openStart } from "../start/start-data";
import { StartList } from "../start/start-list";
import { StartMargin } from "../start/start-margin";
import { type StartAnswer, useStart } from "../start/use-start";
import type { Route } from "./+types/start";

export function loader({ params, request, context }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const found = openStart(webApp(), context.get(userContext), Number(params.id), query);
  if (!found) throw data("This sequence does not exist, or no longer.", { status: 404 });
  return found;
}

export async function action({ request, params, context }: Route.ActionArgs): Promise<Outcome<StartAnswer>> {
  const app = webApp();
  const body = await readJson(request);
  const id = Number(params.id);
  const user = context.get(userContext);
  const sequence = sequenceOf(app, user.id, id);
  if (!sequence) return refused({ form: "This sequence no longer exists." });
  const ofPerson = { stepId: String(body.stepId ?? ""), prospectId: Number(body.prospectId) };
  const said = <T,>(outcome: Outcome<T>, words: string | ((value: T) => string)) =>
    whenDone(outcome, (value): StartAnswer => ({ words: typeof words === "string" ? words : words(value) }));
  switch (body.intent) {
    case "start": {
      const leaveOut = Array.isArray(body.leaveOut) ? body.leaveOut.map(Number) : [];
      return whenDone(startSequence(app, user.id, id, leaveOut), ({ started }): StartAnswer => ({ started }));
    }
    case "fill":
      return said(
        fillField(app, user.id, {
          prospectId: ofPerson.prospectId,
          field: String(body.field),
          value: String(body.value ?? ""),
        }),
        "Filled in.",
      );
    case "read_lines":
      return said(
        markRead(app, user.id, Array.isArray(body.values) ? body.values.map(Number) : []),
        "Read: it may go.",
      );
    case "own":
      return said(
        writeOwnText(app, user.id, id, { ...ofPerson, subject: body.subject, body: body.body }),
        "Written for this one.",
      );
    case "drop_own":
      return said(dropOwnText(app, user.id, id, ofPerson), "Back to the sequence's words.");
    case "approve":
      return said(
        approveBefore(app, user.id, sequence, body.all === true ? "all" : [ofPerson.prospectId]),
        (many) => `You said yes to ${count(many, "first email")}.`,
      );
    case "writes_to":
      return said(
        saveSequence(app, { ...sequenceForm(sequence), writesTo: body.writesTo }, user.id),
        body.writesTo === "good"
          ? "It writes to good addresses only."
          : "It writes to likely addresses, too.",
      );
    case "test":
      return said(
        sendTest(app, user, sequence, ofPerson.stepId, ofPerson.prospectId),
        (address) => `A test is on its way to ${address}.`,
      );
    default:
      return unknownIntent(body.intent);
  }
}

/** More than this asks for a second look. */
const MANY = 200;

export default function StartPage({ loaderData: data, params }: Route.ComponentProps) {
  const { check, problems, mailboxes, personId } = data;
  const { counts } = check;
  const at = useStart(data);
  const { act, waiting, starting, goingNow } = at;
  const [confirming, setConfirming] = useState(false);
  const aDay = mailboxes.filter(({ state }) => state === "active").reduce((sum, each) => sum + each.aDay, 0);
  const start = () => at.press("start", { leaveOut: [...at.leaveOut.keys()] });
  const done = act.isBusy ? null : act.value;
  const heading =
    done?.started !== undefined
      ? `Started for ${count(done.started, "prospect")}`
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
          <Link to={`/sequences/${params.id}`}>{data.name}</Link>, version {data.version} ·{" "}
          {count(mailboxes.length, "mailbox", "mailboxes")}, {aDay} a day
        </>
      }
      actions={
        <>
          <Button onClick={() => at.press("test")} disabled={personId === null || act.isBusy}>
            Test to myself
          </Button>
          <Button
            variant="contained"
            disabled={starting === 0 || problems.length > 0 || act.isBusy}
            onClick={() => (starting > MANY ? setConfirming(true) : start())}
          >
            {goingNow > 0
              ? `Start for ${goingNow}`
              : starting > 0
                ? `Start, and all ${starting} wait`
                : "Start"}
          </Button>
        </>
      }
      margin={<StartMargin data={data} aDay={aDay} />}
    >
      {problems.length > 0 && (
        <Alert severity="error" sx={{ mb: 1.5 }}>
          {problems.map(({ message }) => message).join(" ")}{" "}
          <Link to={`/sequences/${params.id}`}>Mend it</Link>
        </Alert>
      )}
      <Refusal errors={act.errors} />
      {done && (
        <Alert severity="success" sx={{ mb: 1.5 }}>
          {done.words ?? (
            <>
              Started for {count(done.started ?? 0, "prospect")}. <Link to="/sending">Sending</Link> shows who
              gets it when, <Link to={`/sequences/${params.id}/people`}>People</Link> where everybody is.
            </>
          )}
        </Alert>
      )}
      <AddressQuestion data={data} at={at} />
      <StandingBar counts={counts} />
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "252px minmax(0, 1fr)" },
          gap: 2.5,
        }}
      >
        <StartList data={data} at={at} />
        <PersonLetter data={data} at={at} />
      </Box>
      <Confirm
        open={confirming}
        title={`Start for ${starting} people?`}
        keep="Read some more"
        act={`Start for ${starting}`}
        onClose={() => setConfirming(false)}
        onAct={() => {
          setConfirming(false);
          start();
        }}
      >
        {counts.ready} go now, {waiting} start and wait. An email that has left cannot be called back; have
        you read a few of them?
      </Confirm>
    </Page>
  );
}
