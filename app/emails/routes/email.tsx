import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { data, Link, useSearchParams } from "react-router";
import { type OneEmail, oneEmailSchema } from "../../../core/sequence/one-email";
import { webApp } from "../../../server/app";
import { attachmentNames } from "../../../server/mail/files";
import { templateChoices } from "../../../server/pages/templates";
import { prospectStory } from "../../../server/prospects/people/prospect-story";
import { emailPage, seriesOf } from "../../../server/sequences/email-page";
import { openOneEmail, reviseOneEmail } from "../../../server/sequences/one-email";
import { sequenceOf } from "../../../server/sequences/open-sequence";
import { userContext } from "../../accounts/session";
import { MarginNote, Page } from "../../components/page";
import { Refusal } from "../../components/refusal";
import { useSchemaForm } from "../../components/schema-form";
import { useAction } from "../../components/use-action";
import { dayTime, stopWords } from "../../components/words";
import { readJson, unknownIntent } from "../../desk/read-form";
import { NextTouch } from "../../prospects/next-touch";
import { drawStory } from "../../timeline/story";
import { Timeline } from "../../timeline/timeline";
import { UndoLine } from "../../undo/undo-line";
import { WhyButton } from "../../why/why-dialog";
import { EmailForm } from "../email-form";
import type { Route } from "./+types/email";

export function loader({ params, context }: Route.LoaderArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const id = Number(params.id);
  const open = openOneEmail(app, user, id);
  const page = open && emailPage(app, user, open.email.prospectId);
  if (!open || !page) throw data("This email does not exist, or no longer.", { status: 404 });
  const story = prospectStory(app, user.id, open.email.prospectId);
  return {
    open,
    page,
    revision: sequenceOf(app, user.id, id)?.revision ?? 0,
    fileNames: attachmentNames(app.db, sequenceOf(app, user.id, id)?.path ?? []),
    pages: templateChoices(app, user.id),
    journey: story.journeys.find(({ sequenceId }) => sequenceId === id) ?? null,
    events: story.events,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const app = webApp();
  const user = context.get(userContext);
  const body = await readJson(request);
  switch (body.intent) {
    case "save":
      return reviseOneEmail(app, user, Number(params.id), body.email);
    case "series":
      return seriesOf(app, user, String(body.series));
    default:
      return unknownIntent(body.intent);
  }
}

/** What is typed of a time that was said before. */
const saidOf = ({ when, date, time }: OneEmail): string =>
  when === "at" ? `${date} ${time}` : when === "best" ? "At their best hour" : "Now";

export default function EmailPage({ loaderData, params }: Route.ComponentProps) {
  const { open, page, journey, events } = loaderData;
  const { person, now, zone } = page;
  const here = `/emails/${params.id}`;
  const [query] = useSearchParams();
  const [said, setSaid] = useState(saidOf(open.email));
  const act = useAction({ to: here, as: "json" });
  const form = useSchemaForm(oneEmailSchema, open.email, act.errors, (email) =>
    act.press({ intent: "save", email }),
  );
  const isOver = journey?.state !== "active";
  const stopped = Number(query.get("stopped"));
  return (
    <Page
      heading={heading(journey, open.gone.includes("one"), person.name, zone, now)}
      sub={
        <Link to={`/prospects/${person.id}`}>
          {[person.title, person.company].filter(Boolean).join(", ") || "Their story"}
        </Link>
      }
      actions={
        !isOver && (
          <Button
            variant="contained"
            disabled={act.isBusy || !form.formState.isDirty}
            onClick={form.onSubmit}
          >
            {act.isBusy
              ? "Saving …"
              : act.value === null && !form.formState.isDirty && form.formState.isSubmitted
                ? "Saved"
                : "Save"}
          </Button>
        )
      }
      margin={
        <>
          <MarginNote title={isOver ? "How it ended" : "What comes next, and why"}>
            {journey?.state === "active" && <NextTouch journey={journey} now={now} zone={zone} />}
            {journey?.state === "stopped" && (
              <Typography>
                It stopped on {dayTime(journey.endedAt ?? now, zone)}, because {stopWords(journey.stopReason)}
                .
              </Typography>
            )}
            {journey?.state === "finished" && <Typography>They got all of it.</Typography>}
            {journey && <WhyButton journeyId={journey.id} sx={{ mt: 0.5, ml: -1.75 }} />}
          </MarginNote>
          <MarginNote title="What ends it">
            <Typography>A reply, a booked call, an opt-out or a bounce.</Typography>
          </MarginNote>
        </>
      }
    >
      <Refusal errors={act.errors} />
      {journey && <Timeline {...drawStory(journey, events, now, zone)} />}
      {isOver ? (
        <Typography sx={{ whiteSpace: "pre-wrap", mt: 2 }}>{open.email.subject}</Typography>
      ) : (
        <EmailForm
          key={loaderData.revision}
          form={form}
          page={page}
          gone={open.gone}
          pages={loaderData.pages}
          fileNames={loaderData.fileNames}
          said={said}
          onSaid={setSaid}
          to={here}
        />
      )}
      <UndoLine
        words={stopped > 0 ? "Their sequence was stopped for it." : null}
        ids={stopped > 0 ? [stopped] : []}
      />
    </Page>
  );
}

function heading(
  journey: Route.ComponentProps["loaderData"]["journey"],
  hasGone: boolean,
  name: string,
  zone: string,
  now: number,
): string {
  const first = journey?.touches[0];
  if (hasGone && first) return `Written to ${name} on ${dayTime(first.at, zone)}`;
  if (journey?.state === "active")
    return journey.nextAt === null
      ? `To ${name}`
      : `To ${name}, on ${dayTime(Math.max(journey.nextAt, now), zone)}`;
  return `To ${name}`;
}
