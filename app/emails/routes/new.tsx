import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useEffectEvent, useState } from "react";
import { data, Link, redirect } from "react-router";
import { instantOn, weekdayOf } from "../../../core/calendar";
import { oneEmailSchema, pathOfOneEmail } from "../../../core/sequence/one-email";
import { webApp } from "../../../server/app";
import { templateChoices } from "../../../server/pages/templates";
import { emailPage, seriesOf } from "../../../server/sequences/email-page";
import { writeOneEmail } from "../../../server/sequences/one-email";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { useSchemaForm } from "../../components/schema-form";
import { Tick } from "../../components/tick";
import { useAction } from "../../components/use-action";
import type { PageHandle } from "../../desk/live";
import { readJson, unknownIntent } from "../../desk/read-form";
import { drawPlan } from "../../sequences/plan-drawing";
import { Timeline } from "../../timeline/timeline";
import { EmailForm } from "../email-form";
import { forget, keep, kept } from "../kept-email";
import { WhatFollows } from "../what-follows";
import type { Route } from "./+types/new";

/** What of it changes by itself (app/desk/live.ts). */
export const handle = { follows: [] } satisfies PageHandle;

export function loader({ request, context }: Route.LoaderArgs) {
  const page = emailPage(
    webApp(),
    context.get(userContext),
    Number(new URL(request.url).searchParams.get("to")),
  );
  if (!page) throw data("This person is no longer here.", { status: 404 });
  return { page, pages: templateChoices(webApp(), context.get(userContext).id) };
}

export async function action({ request, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const body = await readJson(request);
  switch (body.intent) {
    case "write": {
      const written = writeOneEmail(app, user, body.email);
      if (!written.ok) return written;
      const { sequenceId, undoStop } = written.value;
      throw redirect(`/emails/${sequenceId}${undoStop === null ? "" : `?stopped=${undoStop}`}`);
    }
    case "series":
      return seriesOf(app, user, String(body.series));
    default:
      return unknownIntent(body.intent);
  }
}

export default function NewEmail({ loaderData: { page, pages } }: Route.ComponentProps) {
  const { person, why, meanwhile, now, zone } = page;
  const here = `/emails/new?to=${person.id}`;
  const act = useAction({ to: here, as: "json" });
  const [said, setSaid] = useState("");
  const [stops, setStops] = useState(false);
  const form = useSchemaForm(
    oneEmailSchema,
    {
      prospectId: person.id,
      subject: "",
      body: 'Hello {{ first_name | default: "there" }},\n\n',
      attachments: [],
      linksFiles: false,
      pageId: null,
      mailboxId: null,
      when: "now",
      followUps: [],
      remindAfter: null,
    },
    act.errors,
    (email) => {
      forget(person.id);
      act.press({ intent: "write", email: { ...email, meanwhile: stops ? "stop" : "ask" } });
    },
  );
  const { reset, watch } = form;
  const keepIt = useEffectEvent((email: object) => keep(person.id, { email, said }));
  // What was typed and not sent is there again, and kept while it is typed.
  useEffect(() => {
    const before = kept(person.id);
    if (before) {
      reset({ ...before.email, prospectId: person.id });
      setSaid(before.said);
    }
    const { unsubscribe } = watch((email) => keepIt(email));
    return unsubscribe;
  }, [person.id, reset, watch]);
  const typed = form.watch();
  const shown = {
    ...typed,
    followUps: (typed.followUps ?? []).map((each) => ({
      ...each,
      days: each.days || 1,
      subject: each.subject ?? "",
    })),
    attachments: [],
    linksFiles: false,
    pageId: null,
    mailboxId: null,
    meanwhile: "ask" as const,
  };
  const there = person.zone ?? zone;
  const leavesAt =
    shown.when === "at" && shown.date && shown.time ? instantOn(shown.date, shown.time, there) : now;
  const isNow = typed.when === "now";
  return (
    <Page
      heading={`To ${person.name}`}
      sub={
        <>
          <Link to={`/prospects/${person.id}`}>
            {[person.title, person.company].filter(Boolean).join(", ") || "Their story"}
          </Link>
          {person.email && ` · ${person.email}`}
        </>
      }
      actions={
        <Button
          variant="contained"
          disabled={why !== null || act.isBusy || (meanwhile !== null && !stops)}
          onClick={form.onSubmit}
        >
          {isNow ? "Send it" : "Plan it"}
        </Button>
      }
      margin={
        <>
          {meanwhile && (
            <MarginNote title="They are on a sequence">
              <Link to={`/sequences/${meanwhile.sequenceId}`}>{meanwhile.name}</Link> goes on by itself.
              Nobody is on two at once, so that nobody is written to twice: it stops for them when this is
              sent, and one press takes that back.
            </MarginNote>
          )}
          <WhatFollows email={shown} leavesAt={leavesAt} zone={there} />
        </>
      }
    >
      {why && (
        <Alert severity="warning" sx={{ mb: 2 }}>
          {why}
        </Alert>
      )}
      <Refusal errors={act.errors} />
      {meanwhile && why === null && (
        <Box sx={{ mb: 2 }}>
          <Tick
            label={`Stop “${meanwhile.name}” for them, and write this instead`}
            checked={stops}
            onChange={setStops}
          />
        </Box>
      )}
      {shown.followUps.length > 0 && (
        <Box sx={{ mb: 2 }}>
          <Timeline
            {...plain(
              drawPlan(pathOfOneEmail(shown), { today: weekdayOf(leavesAt, there), isWrong: () => false }),
            )}
          />
        </Box>
      )}
      <EmailForm
        form={form}
        page={page}
        gone={[]}
        pages={pages}
        fileNames={{}}
        said={said}
        onSaid={setSaid}
        to={here}
      />
    </Page>
  );
}

const plain = ({ drawing: _, dropPlaces: __, ...timeline }: ReturnType<typeof drawPlan>) => timeline;
