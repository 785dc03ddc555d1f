import Button from "@mui/material/Button";
import { useState } from "react";
import { data, Link, redirect } from "react-router";
import { mayNot } from "../../../server/accounts/may-not";
import { webApp } from "../../../server/app";
import { done, type Outcome, whenDone } from "../../../server/errors";
import { checkAndAdd } from "../../../server/sending/mailboxes/add-mailbox";
import { type ConnectionCheck, checkConnection } from "../../../server/sending/mailboxes/check-connection";
import { consequenceOf } from "../../../server/sending/mailboxes/consequence";
import { countMailboxes, openMailbox } from "../../../server/sending/mailboxes/open-mailbox";
import { removeMailbox, saveMailbox, setMailboxState } from "../../../server/sending/mailboxes/save-mailbox";
import { userContext } from "../../accounts/session";
import { Page } from "../../components/page";
import { useAction } from "../../components/use-action";
import type { PageHandle } from "../../desk/live";
import { readForm, unknownIntent } from "../../desk/read-form";
import { UndoLine } from "../../undo/undo-line";
import { ConsequenceDialog, type Planned } from "../consequence-dialog";
import type { Answer } from "../mailbox-answer";
import { MailboxForm } from "../mailbox-form";
import { MailboxMargin } from "../mailbox-margin";
import type { Route } from "./+types/mailbox";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ params, context }: Route.LoaderArgs) {
  const user = context.get(userContext);
  if (params.id === "new") return { mailbox: null, isMine: true, userName: user.name, zone: user.zone };
  const mailbox = openMailbox(webApp(), Number(params.id));
  if (!mailbox) throw data("This mailbox does not exist, or no longer.", { status: 404 });
  return {
    mailbox,
    isMine: mayNot(webApp(), user.id, "mailbox.change", mailbox.id) === null,
    userName: user.name,
    zone: user.zone,
  };
}

const FOUND = ["smtpHost", "smtpPort", "smtpSecurity", "imapHost", "imapPort", "imapSecurity"];

export async function action({
  request,
  params,
  context,
}: Route.ActionArgs): Promise<Outcome<Answer> | Response> {
  const app = webApp();
  const user = context.get(userContext);
  const form = await readForm(request);
  const id = Number(params.id);
  const input = params.id === "new" ? form : { ...form, id: params.id };
  const checked = (outcome: Outcome<ConnectionCheck | null>) => whenDone(outcome, (check) => ({ check }));
  switch (form.intent) {
    case "add": {
      const isFirst = countMailboxes(app) === 0;
      const added = await checkAndAdd(app, user, form);
      if (!added.ok) return added;
      // Whoever sets up goes on with the next of Today's steps.
      if (added.value.id !== null) return redirect(isFirst ? "/" : "/sending");
      const found = Object.fromEntries(FOUND.map((name) => [name, String(added.value.form[name] ?? "")]));
      return done({ check: added.value.check, found });
    }
    case "check":
      return checked(await checkConnection(app, user, input));
    case "consequence": {
      const limit = Number(form.dailyLimit) || null;
      const change = form.change === "limit" ? limit : null;
      return done({ consequence: await consequenceOf(app, id, change, user.zone) });
    }
    case "pause":
    case "wake":
      return whenDone(
        setMailboxState(app, user, id, form.intent === "pause" ? "paused" : "active"),
        (undo): Answer => ({ undo }),
      );
    case "remove": {
      const removed = removeMailbox(app, user, id);
      return removed.ok ? redirect("/sending") : removed;
    }
    case "save": {
      const isFirst = countMailboxes(app) === 0;
      const saved = saveMailbox(app, user, input);
      if (!saved.ok) return saved;
      return redirect(isFirst ? "/" : "/sending");
    }
    default:
      return unknownIntent(form.intent);
  }
}

export default function MailboxPage({ loaderData }: Route.ComponentProps) {
  const { mailbox, isMine, userName, zone } = loaderData;
  const [planned, setPlanned] = useState<Planned | null>(null);
  /** By which the pause that was set, or ended, a moment ago is undone. */
  const [undo, setUndo] = useState<number | null>(null);
  const act = useAction<Answer>({}, (answer) => setUndo(answer?.undo ?? null));
  return (
    <Page
      heading={mailbox ? mailbox.address : "Add a mailbox"}
      sub={
        mailbox
          ? `${mailbox.ownerName}'s`
          : "Its servers are found from the address, and asked whether they let you send and read."
      }
      actions={
        !mailbox && (
          <Button component={Link} to="/sending/mailboxes/import">
            Many at once, from a file
          </Button>
        )
      }
      margin={<MailboxMargin mailbox={mailbox} isMine={isMine} zone={zone} />}
    >
      <MailboxForm
        key={mailbox?.revision ?? "new"}
        mailbox={mailbox}
        isMine={isMine}
        userName={userName}
        act={act}
        zone={zone}
        onPlan={setPlanned}
      />
      {mailbox && planned && (
        <ConsequenceDialog
          mailbox={mailbox}
          planned={planned}
          zone={zone}
          onClose={() => setPlanned(null)}
          onDone={({ undo }) => setUndo(undo ?? null)}
        />
      )}
      <UndoLine
        words={undo === null ? null : mailbox?.state === "paused" ? "Paused." : "It sends again."}
        ids={undo === null ? [] : [undo]}
      />
    </Page>
  );
}
