import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import MuiTab from "@mui/material/Tab";
import Tabs from "@mui/material/Tabs";
import isEqual from "fast-deep-equal";
import { Suspense, useEffect, useEffectEvent, useState } from "react";
import { data, Link, redirect, useBlocker, useSearchParams } from "react-router";
import { weekdayOf } from "../../../core/calendar";
import { isEmail, type Path } from "../../../core/sequence/path";
import { propose } from "../../../core/sequence/propose";
import { startingOf } from "../../../core/sequence/standing";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { done } from "../../../server/errors";
import { attachmentNames } from "../../../server/mail/files";
import { allLists } from "../../../server/prospects/lists/lists";
import { allLabels } from "../../../server/replies/labels";
import { checkSequence } from "../../../server/sequences/check-sequence";
import { listSequences } from "../../../server/sequences/list-sequences";
import { moveConsequences, underWayCount } from "../../../server/sequences/move-journeys";
import {
  pauseOfSequence,
  senderChoices,
  sequenceForm,
  sequenceOf,
} from "../../../server/sequences/open-sequence";
import { previewForm, previewStep } from "../../../server/sequences/preview-step";
import type { SequenceForm } from "../../../server/sequences/save-sequence";
import { saveSequence, setSequenceState } from "../../../server/sequences/save-sequence";
import { wordingsSoFar } from "../../../server/sequences/share-wordings";
import { userContext } from "../../accounts/session";
import { lazily } from "../../components/lazily";
import { Page } from "../../components/page";
import { Pill } from "../../components/pill";
import { Refusal } from "../../components/refusal";
import { useAction, useQuestion } from "../../components/use-action";
import { GOAL_REACHED, pausedWords, share } from "../../components/words";
import type { PageHandle } from "../../desk/live";
import { PauseButton } from "../../desk/pause-button";
import { readJson, unknownIntent } from "../../desk/read-form";
import { ComposerTimeline } from "../composer-timeline";
import { SequenceMargin } from "../margin";
import { NodeEditor } from "../node-editor";
import { ConflictDialog, LeaveDialog, SaveDialog } from "../save-dialogs";
import { STATE_PILLS } from "../state-pills";
import { StepPreview } from "../step-preview";
import { FieldCounts } from "../text/field-counts";
import { useComposer } from "../use-composer";
import type { Route } from "./+types/sequence";

const SequenceSettings = lazily(() => import("../settings"), "SequenceSettings");

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

/** What results propose, as the address says it: nothing is changed before the rep saves it. */
function proposedPath(path: Path, query: URLSearchParams): Path | null {
  const [stepId, variantId, endAfter] = ["step", "keep", "end_after"].map((name) => query.get(name));
  if (stepId && variantId) return propose(path, { keep: { stepId, variantId } });
  return endAfter ? propose(path, { endAfter: Number(endAfter) || 0 }) : null;
}

export function loader({ params, request, context }: Route.LoaderArgs) {
  const app = webApp();
  const sequence = sequenceOf(app, context.get(userContext).id, Number(params.id));
  if (!sequence || sequence.deletedAt !== null)
    throw data("This sequence does not exist, or no longer.", { status: 404 });
  if (sequence.kind === "single") throw redirect(`/emails/${sequence.id}`);
  const user = context.get(userContext);
  return {
    sequence: {
      state: sequence.state,
      version: sequence.version,
      underWay: underWayCount(app, sequence.id),
      goal: sequence.settings.goal,
      ...goalOf(app, user.id, sequence.id),
    },
    pause: pauseOfSequence(app, sequence),
    zone: user.zone,
    notYours: mayNot(app, user.id, "sequence.change", sequence.id)?.errors.form ?? null,
    form: sequenceForm(sequence),
    proposed: proposedPath(sequence.path, new URL(request.url).searchParams),
    lists: allLists(app, user.id),
    senders: senderChoices(app, user.id),
    check: checkSequence(app, sequence),
    labels: allLabels(app.db)
      .filter(({ code }) => code !== "opt_out")
      .map(({ code, name, effects }) => ({ code, name, stops: effects.stops })),
    fileNames: attachmentNames(app.db, sequence.path),
    wordings: wordingsSoFar(app, sequence),
    today: weekdayOf(app.clock.now(), user.zone),
  };
}

/** How many were reached, and how many of them came to what it calls success. */
function goalOf(app: ReturnType<typeof webApp>, userId: number, id: number) {
  const found = listSequences(app, userId).find((each) => each.id === id);
  return { reached: found?.figures.reached ?? 0, cameTo: found?.cameTo ?? 0 };
}

interface Preview {
  check: ReturnType<typeof checkSequence> | null;
  preview: ReturnType<typeof previewStep> | null;
  moves: ReturnType<typeof moveConsequences> | null;
}
const NO_PREVIEW: Preview = { check: null, preview: null, moves: null };

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const body = await readJson(request);
  const id = Number(params.id);
  const user = context.get(userContext);
  switch (body.intent) {
    case "preview": {
      // Unsaved text may be half typed; whatever cannot be read gives no preview.
      const read = previewForm.safeParse(body);
      if (!read.success) return done(NO_PREVIEW);
      const { stepId, variantId, index, form } = read.data;
      return done<Preview>({
        check: checkSequence(app, { id, ...form }),
        preview: previewStep(app, { ...form, pageId: form.settings.pageId, stepId, variantId, index }),
        moves: body.changed === true ? moveConsequences(app, id, form.path) : null,
      });
    }
    case "save":
      return saveSequence(app, { ...(body.form as object), underWay: body.underWay, id }, user.id);
    case "pause":
    case "resume":
      return setSequenceState(app, user.id, id, body.intent === "pause" ? "paused" : "running");
    default:
      return unknownIntent(body.intent);
  }
}

export default function SequencePage({ loaderData, params }: Route.ComponentProps) {
  const { sequence, lists, senders, form: stored } = loaderData;
  const [query] = useSearchParams();
  const composer = useComposer(stored, { proposed: loaderData.proposed, at: query.get("step") });
  const { form, node } = composer;
  const [tab, setTab] = useState<Tab>(query.get("show") === "settings" ? "settings" : "write");
  const [index, setIndex] = useState(0);
  const [variant, setVariant] = useState("a");
  const [asking, setAsking] = useState(false);
  // Said outright: what is sent while another page opens would else go there.
  const here = { to: `/sequences/${params.id}`, as: "json" } as const;
  // What was saved has another revision now; what was typed since stays.
  const takeRevision = () => composer.take({ ...form, revision: stored.revision });
  const save = useAction(here, takeRevision);
  const turn = useAction<number>(here, takeRevision);
  const isChanged = !isEqual({ ...form, revision: 0 }, { ...stored, revision: 0 });
  const pathChanged = !isEqual(form.path, stored.path);
  const variantId =
    node && isEmail(node)
      ? ((node.variants.find(({ id }) => id === variant) ?? node.variants[0])?.id ?? "a")
      : "a";

  const seen = usePreview(here, { form, stepId: node?.id ?? "", variantId, index, changed: pathChanged });
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => isChanged && currentLocation.pathname !== nextLocation.pathname,
  );
  const check = seen?.check ?? loaderData.check;
  const errors = save.isBusy ? {} : save.errors;
  useUndoKeys(composer.undo, composer.redo);
  const send = (more: { form?: typeof form; underWay?: string } = {}) =>
    save.press({ intent: "save", form, ...more });
  const [tone, word] = STATE_PILLS[sequence.state];
  const nextVersion = sequence.state === "draft" || !pathChanged ? "" : ` version ${sequence.version + 1}`;
  return (
    <Page
      heading={
        <>
          {form.name} <Pill tone={tone}>{word}</Pill>
        </>
      }
      sub={<Standing at={`/sequences/${params.id}`} {...loaderData} />}
      actions={
        <>
          {(sequence.state === "running" || sequence.state === "paused") && (
            <PauseButton
              of="sequence"
              ids={[Number(params.id)]}
              name={form.name}
              becomes={sequence.state === "running" ? "paused" : "running"}
              zone={loaderData.zone}
              undoId={turn.value}
              onAct={() => turn.press({ intent: sequence.state === "running" ? "pause" : "resume" })}
              label={sequence.state === "running" ? "Pause" : "Go on"}
            />
          )}
          <Button
            variant={isChanged ? "contained" : "outlined"}
            disabled={!isChanged || save.isBusy || turn.isBusy || loaderData.notYours !== null}
            onClick={() => (pathChanged && sequence.underWay > 0 ? setAsking(true) : send())}
          >
            {save.isBusy ? "Saving …" : `Save${nextVersion}`}
          </Button>
          <CheckAndStart at={`/sequences/${params.id}`} check={check} isChanged={isChanged} />
        </>
      }
      margin={
        <SequenceMargin
          form={form}
          check={check}
          node={node}
          variantId={variantId}
          preview={seen?.preview ?? null}
          lists={lists}
          mailboxes={senders.mailboxes}
          isChanged={isChanged}
          onSettings={() => setTab("settings")}
        />
      }
    >
      {loaderData.notYours && (
        <Alert severity="info" sx={{ mb: 1.5 }}>
          {loaderData.notYours} You can read it, try it out and copy its steps.
        </Alert>
      )}
      <Refusal errors={turn.errors} />
      {!errors.revision && <Refusal errors={errors} />}
      <ComposerTimeline
        composer={composer}
        today={loaderData.today}
        problems={check.problems}
        onOpen={() => {
          setTab("write");
          setTimeout(() => document.querySelector<HTMLElement>("[role=textbox], textarea")?.focus());
        }}
      />
      <Sheet tab={tab} onTab={setTab}>
        {tab === "settings" ? (
          <Suspense>
            <SequenceSettings
              form={form}
              onChange={composer.set}
              fields={check.fields}
              lists={lists}
              senders={senders}
              labels={loaderData.labels}
              errors={errors}
            />
          </Suspense>
        ) : tab === "write" ? (
          <FieldCounts value={check.has}>
            <NodeEditor
              composer={composer}
              variantId={variantId}
              onVariant={setVariant}
              fields={check.fields}
              samples={seen?.preview?.samples ?? {}}
              fileNames={loaderData.fileNames}
              wordings={loaderData.wordings}
              problems={check.problems}
            />
          </FieldCounts>
        ) : (
          <StepPreview preview={seen?.preview ?? null} onTurn={(by) => setIndex(index + by)} />
        )}
      </Sheet>
      <SaveDialog
        open={asking}
        moves={seen?.moves ?? null}
        underWay={sequence.underWay}
        version={sequence.version + 1}
        onClose={() => setAsking(false)}
        onSave={(underWayGo) => {
          setAsking(false);
          send({ underWay: underWayGo });
        }}
      />
      <ConflictDialog
        open={errors.revision !== undefined}
        mine={form}
        theirs={stored}
        onMine={() => send({ form: { ...form, revision: stored.revision } })}
        onTheirs={() => {
          composer.take(stored);
          save.reset();
        }}
      />
      <LeaveDialog blocker={blocker} name={form.name} />
    </Page>
  );
}

type Tab = "write" | "read" | "settings";

/** Below the timeline: what stands in the open tab. */
function Sheet(props: { tab: Tab; onTab: (tab: Tab) => void; children: React.ReactNode }) {
  return (
    <Paper variant="outlined" sx={{ mt: 1 }}>
      <Tabs
        value={props.tab}
        variant="scrollable"
        allowScrollButtonsMobile
        onChange={(_, value) => props.onTab(value)}
        sx={{ borderBottom: "1px solid", borderColor: "divider", px: 2, minHeight: 42 }}
      >
        <MuiTab value="write" label="Write" sx={{ minHeight: 42 }} />
        <MuiTab value="read" label="As they read it" sx={{ minHeight: 42 }} />
        <MuiTab value="settings" label="Who, when, from where" sx={{ minHeight: 42 }} />
      </Tabs>
      <Box sx={{ p: 2.25 }}>{props.children}</Box>
    </Paper>
  );
}

type Loaded = Route.ComponentProps["loaderData"];

function Standing(props: { at: string } & Pick<Loaded, "sequence" | "pause" | "zone">) {
  const { at, sequence, pause, zone } = props;
  return (
    <>
      {sequence.state === "paused" && pause ? `${pausedWords(pause, zone)} · ` : ""}
      {sequence.reached > 0 &&
        `${share(sequence.cameTo, sequence.reached)} ${GOAL_REACHED[sequence.goal]} · `}
      version {sequence.version} · <Link to={`${at}/people`}>people</Link> ·{" "}
      <Link to={`${at}/rehearsal`}>rehearse</Link> · <Link to={`${at}/versions`}>versions</Link>
    </>
  );
}

function CheckAndStart(props: { at: string; check: Loaded["check"]; isChanged: boolean }) {
  const { at, check, isChanged } = props;
  const starting = startingOf(check.start);
  return (
    <Button
      variant={isChanged ? "outlined" : "contained"}
      disabled={isChanged || check.problems.length > 0}
      component={Link}
      to={`${at}/start`}
    >
      {starting > 0 ? `Check and start ${starting}` : "Check"}
    </Button>
  );
}

/** Checks and preview follow what is typed, after a breath. */
function usePreview(
  here: { to: string; as: "json" },
  of: { form: SequenceForm; stepId: string; variantId: string; index: number; changed: boolean },
): Preview | null {
  const { ask, value } = useQuestion<Preview>(here);
  const { form, stepId, variantId, index, changed } = of;
  useEffect(() => {
    const timer = setTimeout(() => ask({ intent: "preview", form, stepId, variantId, index, changed }), 250);
    return () => clearTimeout(timer);
  }, [form, stepId, variantId, index, changed, ask]);
  return value;
}

/** Undo and redo anywhere on the page, but for fields that undo what is typed in them. */
function useUndoKeys(undo: () => void, redo: () => void): void {
  const hear = useEffectEvent((event: KeyboardEvent) => {
    const typing = (event.target as HTMLElement | null)?.closest("input, textarea, [contenteditable=true]");
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || typing) return;
    event.preventDefault();
    if (event.shiftKey) redo();
    else undo();
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => hear(event);
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
