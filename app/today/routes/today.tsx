import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Theme } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import useMediaQuery from "@mui/material/useMediaQuery";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { TODO_GROUPS } from "../../../core/today/order";
import { looking } from "../../../server/accounts/whose";
import { webApp } from "../../../server/app";
import { noteMeeting } from "../../../server/meetings/book-meeting";
import { fillField, saveProspect } from "../../../server/prospects/people/save-prospect";
import { allLabels } from "../../../server/replies/labels";
import { callBackAt } from "../../../server/today/call-back";
import { daySoFar } from "../../../server/today/day-so-far";
import { approveDrafts, dropDraft, editDraft } from "../../../server/today/drafts";
import { noteDriftSeen } from "../../../server/today/drifts";
import { endTouch } from "../../../server/today/end-touch";
import { endTouches } from "../../../server/today/end-touches";
import { markAccepted } from "../../../server/today/mark-accepted";
import { draftsToApprove } from "../../../server/today/own-touches";
import { putOff } from "../../../server/today/put-off";
import { releaseCompany } from "../../../server/today/release-company";
import { endReminder, planNext, settleWarm } from "../../../server/today/reminders";
import { today } from "../../../server/today/today";
import type { TodoItem } from "../../../server/today/todo-item";
import { todoList } from "../../../server/today/todo-list";
import { userContext } from "../../accounts/session";
import { lazily } from "../../components/lazily";
import { Page } from "../../components/page";
import { isPhone } from "../../components/phone";
import { Refusal } from "../../components/refusal";
import { useAction } from "../../components/use-action";
import { useKeys } from "../../desk/keys";
import { readJson, unknownIntent } from "../../desk/read-form";
import { WhoseSwitch } from "../../desk/whose-switch";
import { CallSheet } from "../call-sheet";
import { Drafts } from "../drafts";
import { headline, opening, subline } from "../headline";
import { TodayMargin } from "../today-margin";
import { GroupBar, isEqualWork, ManyBar } from "../todo-groups";
import { pressed } from "../todo-keys";
import { TodoRow } from "../todo-row";
import { GROUP_WORDS } from "../todo-words";
import { type Act, TodoWork } from "../todo-work";
import type { Route } from "./+types/today";

/** In the first days only. */
const FirstSteps = lazily(() => import("../first-steps"), "FirstSteps");

export function loader({ request, context }: Route.LoaderArgs) {
  const query = new URL(request.url).searchParams;
  const only = TODO_GROUPS.find((group) => group === query.get("show")) ?? null;
  const user = context.get(userContext);
  const app = webApp();
  return {
    ...today(app, user),
    todo: todoList(app, user, { only, all: query.has("all") }),
    drafts: draftsToApprove(app, user),
    soFar: daySoFar(app, user),
    labels: allLabels(app.db).map(({ code, name }) => [code, name] as [string, string]),
    zone: user.zone,
    firstName: user.name.split(" ")[0] ?? user.name,
    looking: looking(app, user),
  };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const body = await readJson(request);
  const id = Number(body.id);
  const days = Number(body.days) || 1;
  const prospectId = Number(body.prospectId);
  const ids = Array.isArray(body.ids) ? body.ids.map(Number) : [];
  switch (body.intent) {
    case "done":
      return endTouch(app, user, body, "done");
    case "skip":
      return endTouch(app, user, body, "skipped");
    case "end_many":
      return endTouches(app, user, body);
    case "later":
      return putOff(app, user, id, days);
    case "call-back":
      return callBackAt(app, user, body);
    case "accepted":
      return markAccepted(app, user, prospectId);
    case "approve":
      return approveDrafts(app, user, ids);
    case "edit":
      return editDraft(app, user.id, body);
    case "edit_approve": {
      const edited = editDraft(app, user.id, body);
      return edited.ok ? approveDrafts(app, user, ids) : edited;
    }
    case "drop":
      return dropDraft(app, user, id);
    case "release":
      return releaseCompany(app, user.id, Number(body.companyId), prospectId || null);
    case "reminder-done":
    case "reminder-skip":
      return endReminder(app, user, id, body.intent === "reminder-done" ? "done" : "skipped");
    case "reminder-later":
      return endReminder(app, user, id, { days });
    case "plan-next":
      return planNext(app, user, prospectId, days);
    case "warm-done":
    case "warm-skip":
      return settleWarm(app, user, prospectId, body.intent === "warm-done");
    case "drift-seen":
      return noteDriftSeen(app, user, body);
    case "met":
      return noteMeeting(app, user.id, body);
    case "stage":
      return saveProspect(app, user.id, { id: prospectId, stage: body.stage });
    case "fill":
      return fillField(app, user.id, {
        prospectId,
        field: String(body.field),
        value: String(body.value ?? ""),
      });
    default:
      return unknownIntent(body.intent);
  }
}

export default function TodayPage({ loaderData }: Route.ComponentProps) {
  const { now, zone, firstName, unread, firstSteps, todo, drafts } = loaderData;
  const { items } = todo;
  const { press, isBusy, errors } = useAction({ to: "/?index", as: "json" });
  const navigate = useNavigate();
  const [selected, setSelected] = useState<string | null>(null);
  /** Where the selection was: what follows takes the place of what was done. */
  const lastAt = useRef(0);
  const [query, setQuery] = useSearchParams();
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const isWide = useMediaQuery<Theme>((theme) => theme.breakpoints.up("md"), { defaultMatches: true });
  /** On a phone, the one thing that was chosen from the list. */
  const thing = query.get("thing");
  const isAlone = thing !== null && items.length > 0;
  const at = items.findIndex(({ key }) => key === (selected ?? thing));
  const index = at >= 0 ? at : Math.min(lastAt.current, items.length - 1);
  const open = items[index];
  if (at >= 0) lastAt.current = at;
  const list = useRef<HTMLDivElement>(null);
  // A second press while the first is on its way would be about what is done already.
  const act: Act = (intent, body) => isBusy || press({ intent, ...body });
  function choose(key: string): void {
    setSelected(key);
    if (!isPhone()) return;
    setQuery((before) => {
      before.set("thing", key);
      return before;
    });
  }
  function move(by: 1 | -1): void {
    const next = items[Math.max(0, Math.min(items.length - 1, index + by))];
    if (next) setSelected(next.key);
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: the row at hand comes into view once, not with every refresh.
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: "nearest" });
  }, [open?.key]);
  useKeys((key, event) => {
    if (!open) return false;
    const does = isBusy ? null : pressed(open, key);
    if (key === "j") move(1);
    else if (key === "k") move(-1);
    else if (key === "enter" && open.kind === "replies" && event.target === document.body)
      void navigate("/replies");
    else if (does) act(...does);
    else return false;
    return true;
  });
  const { at: looksAt, name } = loaderData.looking;
  const whose = looksAt === "mine" ? "" : (name ?? "Everybody");
  const readings = new Map(loaderData.labels);
  const waiting = TODO_GROUPS.reduce((sum, group) => sum + todo.groups[group], 0);
  const others = waiting - (unread > 0 ? 1 : 0);
  const backTo = new URLSearchParams(query);
  backTo.delete("thing");
  const person = open && "person" in open ? open.person : open?.kind === "field" ? open.first : null;
  const sheet = person && open && (
    <CallSheet
      prospectId={person.id}
      text={"text" in open && "touchId" in open ? open.text : ""}
      now={now}
      zone={zone}
    />
  );
  return (
    <Page
      heading={`${opening(whose, now, zone, firstName)} ${headline(loaderData, waiting, whose)}`}
      sub={subline(loaderData, others)}
      actions={<WhoseSwitch looking={loaderData.looking} />}
      hasMarginOnPhone={!isAlone}
      phoneBack={
        isAlone
          ? { to: `?${backTo}`, words: todo.only === null ? `All ${waiting}` : GROUP_WORDS[todo.only] }
          : null
      }
      margin={
        <>
          {isWide && sheet}
          <TodayMargin data={loaderData} />
        </>
      }
    >
      {firstSteps && (
        <Suspense>
          <FirstSteps steps={firstSteps} now={now} zone={zone} />
        </Suspense>
      )}
      <Refusal errors={errors} />
      <GroupBar todo={todo} isHidden={isAlone} />
      {todo.only !== null && !isAlone && (
        <ManyBar
          items={items}
          ticked={ticked}
          onTick={(keys) => setTicked(new Set(keys))}
          act={act}
          isBusy={isBusy}
        />
      )}
      <Box ref={list} component="section" aria-label="What waits for you">
        {items.map((item, place) => (
          <TodoRow
            key={item.key}
            item={item}
            isOpen={place === index}
            isAlone={isAlone}
            tick={
              todo.only !== null && !isAlone && isEqualWork(item)
                ? {
                    isOn: ticked.has(item.key),
                    turn: () =>
                      setTicked((before) => {
                        const after = new Set(before);
                        if (!after.delete(item.key)) after.add(item.key);
                        return after;
                      }),
                  }
                : null
            }
            now={now}
            zone={zone}
            readings={readings}
            onOpen={() => choose(item.key)}
          >
            {!isWide && sheet}
            <div data-foot>
              {item.kind === "drafts" ? (
                <Drafts drafts={drafts.shown} total={drafts.total} now={now} zone={zone} act={act} />
              ) : (
                <TodoWork item={item} act={act} />
              )}
              {isAlone && place < items.length - 1 && (
                <Button
                  sx={{ display: { sm: "none" }, mt: 1 }}
                  fullWidth
                  onClick={() => choose((items[place + 1] as TodoItem).key)}
                >
                  Leave it, on to the next
                </Button>
              )}
            </div>
          </TodoRow>
        ))}
      </Box>
      {items.length === 0 && firstSteps === null && (
        <Typography color="textSecondary">
          Nothing waits for you. What comes up, a reply, a call, a draft, stands here in the order of its
          worth.
        </Typography>
      )}
      {todo.more > 0 && (
        <Button
          component={Link}
          to={`?${new URLSearchParams([...backTo, ["all", "1"]])}`}
          preventScrollReset
          sx={{ mt: 1.5 }}
        >
          {query.has("all") ? `The first ${items.length} are shown` : `Show ${todo.more} more`}
        </Button>
      )}
    </Page>
  );
}
