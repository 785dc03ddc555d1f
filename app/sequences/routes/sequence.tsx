import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Tab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { data, useBlocker, useFetcher } from "react-router";
import { weekdayOf } from "../../../core/calendar";
import { moveStep, plannedDays, type Step } from "../../../core/sequence/steps";
import { whyNotYours } from "../../../server/accounts/ownership";
import { webApp } from "../../../server/app";
import { allLists } from "../../../server/prospects/lists/lists";
import { checkSequence, type SequenceCheck } from "../../../server/sequences/check-sequence";
import { mailboxChoices, sequenceForm, sequenceOf } from "../../../server/sequences/open-sequence";
import { previewForm, previewStep } from "../../../server/sequences/preview-step";
import { saveSequence, setSequenceState } from "../../../server/sequences/save-sequence";
import { startSequence } from "../../../server/sequences/start-sequence";
import { userContext } from "../../accounts/session";
import { Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { count } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { Timeline } from "../../timeline/timeline";
import { SequenceMargin } from "../margin";
import { SequenceSettings } from "../settings";
import { StepEditor } from "../step-editor";
import { StepPreview } from "../step-preview";
import type { Route } from "./+types/sequence";
import { STATE_PILLS } from "./sequences";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const sequence = sequenceOf(app, Number(params.id));
  if (!sequence) throw data("This sequence does not exist, or no longer.", { status: 404 });
  const user = context.get(userContext);
  return {
    sequence,
    form: sequenceForm(sequence),
    lists: allLists(app),
    mailboxes: mailboxChoices(app),
    check: checkSequence(app, sequence),
    today: weekdayOf(app.clock.now(), user.zone),
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const body = (await readJson(request)) as Record<string, unknown>;
  const id = Number(params.id);
  const user = context.get(userContext);
  const notYours = body.intent === "preview" ? null : whyNotYours(app, user, { sequenceId: id });
  if (notYours) return { kind: "refused" as const, errors: { form: notYours } };
  switch (body.intent) {
    case "preview": {
      // Unsaved text may be half typed; whatever cannot be read gives no preview.
      const read = previewForm.safeParse(body);
      if (!read.success) return { kind: "preview" as const, check: null, preview: null };
      const { stepId, index, form } = read.data;
      return {
        kind: "preview" as const,
        check: checkSequence(app, { id, ...form }),
        preview: previewStep(app, { ...form, stepId, index }),
      };
    }
    case "save": {
      const saved = saveSequence(app, { ...(body.form as object), id });
      return saved.ok
        ? { kind: "saved" as const, version: saved.value }
        : { kind: "refused" as const, errors: saved.errors };
    }
    case "start": {
      const started = startSequence(app, user.id, id);
      return started.ok
        ? { kind: "started" as const, report: started.value }
        : { kind: "refused" as const, errors: started.errors };
    }
    case "pause":
    case "resume":
      setSequenceState(app, id, body.intent === "pause" ? "paused" : "running");
      return { kind: "changed" as const };
    default:
      return unknownIntent(body.intent);
  }
}

const newId = () => Math.random().toString(36).slice(2, 10);

export default function SequencePage({ loaderData }: Route.ComponentProps) {
  const { sequence, lists, mailboxes } = loaderData;
  const [form, setForm] = useState(loaderData.form);
  const [selected, setSelected] = useState(form.steps[0]?.id ?? null);
  const [tab, setTab] = useState<"write" | "read" | "settings">("write");
  const [index, setIndex] = useState(0);
  const [confirming, setConfirming] = useState(false);
  const act = useFetcher<typeof action>();
  const look = useFetcher<typeof action>();
  const isChanged = JSON.stringify(form) !== JSON.stringify(loaderData.form);
  const step = form.steps.find(({ id }) => id === selected) ?? form.steps[0];

  // Checks and preview follow what is typed, after a breath.
  const submitLook = look.submit;
  useEffect(() => {
    const timer = setTimeout(
      () =>
        submitLook(JSON.stringify({ intent: "preview", form, stepId: step?.id ?? "", index }), {
          method: "post",
          encType: "application/json",
        }),
      250,
    );
    return () => clearTimeout(timer);
  }, [form, step?.id, index, submitLook]);

  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => isChanged && currentLocation.pathname !== nextLocation.pathname,
  );
  const seen = look.data?.kind === "preview" ? look.data : null;
  const check = seen?.check ?? loaderData.check;
  const send = (intent: string) =>
    act.submit(JSON.stringify({ intent, form }), { method: "post", encType: "application/json" });
  const setSteps = (steps: Step[]) => setForm({ ...form, steps });

  function addAfter(id: string | null): void {
    const at = id === null ? form.steps.length : form.steps.findIndex((each) => each.id === id) + 1;
    const added: Step = {
      id: newId(),
      kind: "email",
      name: form.steps.length === 0 ? "Opening" : `Follow-up ${form.steps.length}`,
      waitDays: form.steps.length === 0 ? 0 : 3,
      subject: "",
      body: "",
    };
    setSteps(form.steps.toSpliced(at, 0, added));
    setSelected(added.id);
    setTab("write");
  }
  function remove(id: string): void {
    const at = form.steps.findIndex((each) => each.id === id);
    setSteps(form.steps.filter((each) => each.id !== id));
    setSelected(form.steps[at - 1]?.id ?? form.steps[at + 1]?.id ?? null);
  }

  const days = plannedDays(form.steps);
  const last = Math.max(5, (days.at(-1) ?? 0) + 1);
  const [tone, word] = STATE_PILLS[sequence.state];
  const problems = check.problems.length;
  return (
    <Page
      heading={
        <>
          {form.name} <Pill tone={tone}>{word}</Pill>
        </>
      }
      sub={`version ${sequence.version} · ${count(form.steps.length, "email")} over ${count(days.at(-1) ?? 0, "working day")}`}
      actions={
        <>
          {sequence.state === "running" && <Button onClick={() => send("pause")}>Pause</Button>}
          {sequence.state === "paused" && <Button onClick={() => send("resume")}>Go on</Button>}
          <Button
            variant={isChanged ? "contained" : "outlined"}
            disabled={!isChanged || act.state !== "idle"}
            onClick={() => send("save")}
          >
            Save
          </Button>
          <Button
            variant={isChanged ? "outlined" : "contained"}
            disabled={isChanged || problems > 0 || check.start.ready === 0 || act.state !== "idle"}
            onClick={() => setConfirming(true)}
          >
            {check.start.ready === 0 && check.start.already > 0
              ? "Started for all"
              : `Start for ${count(check.start.ready, "prospect")}`}
          </Button>
        </>
      }
      margin={
        <SequenceMargin
          form={form}
          check={check}
          step={step}
          lists={lists}
          mailboxes={mailboxes}
          isChanged={isChanged}
        />
      }
    >
      {act.data?.kind === "refused" && (
        <Alert severity="error" sx={{ mb: 1.5 }}>
          {Object.values(act.data.errors).join(" ")}
        </Alert>
      )}
      {act.data?.kind === "started" && act.state === "idle" && (
        <Alert severity="success" sx={{ mb: 1.5 }}>
          Started for {count(act.data.report.started, "prospect")}. Sending shows who gets it when.
        </Alert>
      )}
      <Timeline
        name="Steps of the sequence"
        lanes={["Email"]}
        height={112}
        days={Array.from({ length: last + 1 }, (_, day) => (day === 0 ? "Day 0" : String(day)))}
        weekendsAfter={Array.from({ length: last + 1 }, (_, day) => day).filter(
          (day) => (Math.min(loaderData.today, 5) + day) % 5 === 0,
        )}
        touches={form.steps.map((each, at) => ({
          id: each.id,
          lane: "Email",
          day: days[at] ?? 0,
          label: each.name,
          channel: "email",
          state: check.problems.some(({ stepId }) => stepId === each.id) ? "person" : "planned",
          spoken: `${each.name}, email on working day ${days[at]}`,
        }))}
        selected={step?.id ?? null}
        onSelect={setSelected}
        onOpen={(id) => {
          setSelected(id);
          setTab("write");
          setTimeout(() => document.querySelector<HTMLElement>("[name=body]")?.focus());
        }}
        onMove={(id, by) => setSteps(moveStep(form.steps, id, by))}
        onAdd={addAfter}
      />
      <Box
        sx={{
          bgcolor: "background.paper",
          border: "1px solid",
          borderColor: "divider",
          borderRadius: 1,
          mt: 1,
        }}
      >
        <Box
          sx={{
            display: "flex",
            alignItems: "center",
            borderBottom: "1px solid",
            borderColor: "divider",
            px: 2,
          }}
        >
          <Tabs value={tab} onChange={(_, value) => setTab(value)} sx={{ flex: 1 }}>
            <Tab value="write" label="Write" />
            <Tab value="read" label="As they read it" />
            <Tab value="settings" label="Who, when, from where" />
          </Tabs>
          <Button variant="text" onClick={() => addAfter(step?.id ?? null)}>
            Add a step
          </Button>
          {step && form.steps.length > 1 && (
            <Button variant="text" onClick={() => remove(step.id)}>
              Remove this one
            </Button>
          )}
        </Box>
        <Box sx={{ p: 2.5 }}>
          {tab === "settings" ? (
            <SequenceSettings
              form={form}
              onChange={setForm}
              lists={lists}
              mailboxes={mailboxes}
              errors={act.data?.kind === "refused" ? act.data.errors : {}}
            />
          ) : !step ? (
            <Typography color="textSecondary">Add a step to begin.</Typography>
          ) : tab === "write" ? (
            <StepEditor
              key={step.id}
              step={step}
              isFirst={form.steps[0]?.id === step.id}
              fields={check.fields}
              problems={check.problems.filter(({ stepId }) => stepId === step.id)}
              onChange={(changed) =>
                setSteps(form.steps.map((each) => (each.id === changed.id ? changed : each)))
              }
            />
          ) : (
            <StepPreview preview={seen?.preview ?? null} onTurn={(by) => setIndex(index + by)} />
          )}
        </Box>
      </Box>
      <StartDialog
        open={confirming}
        start={check.start}
        missing={check.missing}
        onClose={() => setConfirming(false)}
        onStart={() => {
          setConfirming(false);
          send("start");
        }}
      />
      <Dialog open={blocker.state === "blocked"} onClose={() => blocker.reset?.()}>
        <DialogTitle>Leave without saving?</DialogTitle>
        <DialogContent>What you changed in “{form.name}” since the last save will be gone.</DialogContent>
        <DialogActions>
          <Button onClick={() => blocker.reset?.()}>Stay here</Button>
          <Button variant="contained" onClick={() => blocker.proceed?.()}>
            Leave
          </Button>
        </DialogActions>
      </Dialog>
    </Page>
  );
}

/** An email leaves for good, so the start says in numbers what it will do. */
function StartDialog(props: {
  open: boolean;
  start: SequenceCheck["start"];
  missing: { field: string; count: number }[];
  onClose: () => void;
  onStart: () => void;
}) {
  const { start, missing } = props;
  return (
    <Dialog open={props.open} onClose={props.onClose} maxWidth="sm">
      <DialogTitle>Start for {count(start.ready, "prospect")}?</DialogTitle>
      <DialogContent>
        <Typography component="div">
          They get the first email in the coming sending hours, a few minutes apart from each mailbox.
          <Box component="ul" sx={{ pl: 2.5, mb: 0 }}>
            {missing.map(({ field, count: people }) => (
              <li key={field}>
                {count(people, "prospect")} {people === 1 ? "has" : "have"} no {field.replaceAll("_", " ")}{" "}
                and will wait until you fill it in.
              </li>
            ))}
            {start.already > 0 && (
              <li>{count(start.already, "prospect")} had it before and will not get it again.</li>
            )}
            {start.elsewhere > 0 && (
              <li>{count(start.elsewhere, "prospect")} on another sequence are left out.</li>
            )}
            {start.blocked > 0 && <li>{count(start.blocked, "prospect")} on the block list are left out.</li>}
            {start.bad > 0 && <li>{count(start.bad, "prospect")} with a bad address are left out.</li>}
            {start.unsure > 0 && (
              <li>{count(start.unsure, "prospect")} start and wait until their address is better known.</li>
            )}
          </Box>
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={props.onClose}>Not yet</Button>
        <Button variant="contained" onClick={props.onStart}>
          Start for {count(start.ready, "prospect")}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
