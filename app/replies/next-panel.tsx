/** What a label leads on to: whom to write to instead, when to write again, how long somebody is away. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { OpenReply } from "../../server/replies/list-replies";
import type { Suggestion } from "../../server/replies/suggest-answer";
import { DayField } from "../components/moment-fields";
import { PlainTextField } from "../components/plain-text-field";
import { ActionForm, useAction } from "../components/use-action";
import type { Answered } from "./answer-form";
import { newKey } from "./kept-draft";

const letter = { "& textarea": { typography: "letter" } } as const;

function Panel({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ mt: 2, p: 2, bgcolor: "ochre.wash", borderRadius: 1, display: "grid", gap: 1.25 }}
    >
      <Typography sx={{ fontWeight: 650 }}>{title}</Typography>
      {children}
    </Box>
  );
}

function useOnce() {
  const act = useAction<Answered>();
  const [key, setKey] = useState("");
  useEffect(() => setKey(newKey()), []);
  return { act, key, ...act, words: act.value?.words };
}

/** The person whom the letter names; the fields can be mended, and the letter read, before anything goes. */
export function NamedPanel({
  reply,
  suggestion,
  isAway,
}: {
  reply: OpenReply;
  suggestion: Suggestion;
  isAway: boolean;
}) {
  const { act, key, errors, isBusy, words } = useOnce();
  const [writes, setWrites] = useState(!isAway);
  const person = reply.reading?.person ?? { firstName: "", lastName: "", email: "", phone: "" };
  const named = [person.firstName, person.lastName].filter(Boolean).join(" ") || person.email;
  if (act.value?.addedId !== undefined)
    return (
      <Panel title={words ?? "Added."}>
        <Typography>
          <Link to={`/prospects/${act.value.addedId}`}>Open their page</Link>
        </Typography>
      </Panel>
    );
  return (
    <Panel
      title={
        named === ""
          ? "Whom should you write to instead?"
          : isAway
            ? `${named} answers while they are away`
            : `They name ${named}`
      }
    >
      <ActionForm
        of={act}
        sends={{ intent: "add-named", replyId: reply.id, key }}
        sx={{ display: "grid", gap: 1.25 }}
      >
        <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 1.25 }}>
          <PlainTextField
            name="firstName"
            label="First name"
            defaultValue={person.firstName}
            errors={errors}
          />
          <PlainTextField name="lastName" label="Last name" defaultValue={person.lastName} errors={errors} />
          <PlainTextField name="email" label="Address" defaultValue={person.email} errors={errors} />
          <PlainTextField name="phone" label="Phone" defaultValue={person.phone} errors={errors} />
        </Box>
        {writes && (
          <>
            {!isAway && (
              <PlainTextField
                name="thanks"
                label={`Thanks to ${reply.name.split(" ")[0]}`}
                multiline
                defaultValue={suggestion.thanks}
                errors={errors}
                sx={letter}
              />
            )}
            <PlainTextField
              name="subject"
              label="Subject of the first letter"
              defaultValue={suggestion.opening.subject}
              errors={errors}
            />
            <PlainTextField
              name="opening"
              label="The first letter"
              multiline
              maxRows={12}
              defaultValue={suggestion.opening.body}
              errors={errors}
              sx={letter}
            />
          </>
        )}
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.25 }}>
          <Button type="submit" variant="contained" disabled={isBusy}>
            {writes ? (isAway ? "Add them and write" : "Add them, and send both") : "Add them as a prospect"}
          </Button>
          <Button type="button" onClick={() => setWrites(!writes)}>
            {writes ? "Add them without a letter" : "Write to them, too"}
          </Button>
        </Box>
      </ActionForm>
    </Panel>
  );
}

/** Writes again on the day that they asked for, unless they write before. */
export function ComeBackPanel({ reply, suggestion }: { reply: OpenReply; suggestion: Suggestion }) {
  const { act, key, errors, isBusy, words } = useOnce();
  if (words) return <Panel title={words}>{null}</Panel>;
  return (
    <Panel title={reply.reading?.day ? "They want to be asked again" : "When should you write again?"}>
      <ActionForm
        of={act}
        sends={{ intent: "come-back", replyId: reply.id, key }}
        sx={{ display: "grid", gap: 1.25 }}
      >
        <DayField
          name="date"
          label="Write again on"
          defaultValue={reply.reading?.day ?? ""}
          errors={errors}
          sx={{ maxWidth: 220 }}
        />
        <PlainTextField
          name="text"
          label="What you will say then"
          multiline
          defaultValue={suggestion.again}
          errors={errors}
          sx={letter}
        />
        <PlainTextField
          name="nudge"
          label="And five working days later, if nothing comes back"
          multiline
          defaultValue={suggestion.nudge}
          errors={errors}
          sx={letter}
        />
        <Box>
          <Button type="submit" variant="contained" disabled={isBusy}>
            Write again then, unless they write before
          </Button>
        </Box>
      </ActionForm>
    </Panel>
  );
}

/** Until when somebody is away, set by hand where the letter does not say it or says it wrongly. */
export function AwayPanel({ reply }: { reply: OpenReply }) {
  const { act, errors, isBusy, words } = useOnce();
  return (
    <Panel title={words ?? (reply.reading?.day ? "Away until the day that they name" : "They name no day")}>
      <ActionForm
        of={act}
        sends={{ intent: "label", label: "away", replyId: reply.id }}
        sx={{ display: "flex", gap: 1.25, alignItems: "flex-start", flexWrap: "wrap" }}
      >
        <DayField
          name="day"
          label="Back on"
          defaultValue={reply.reading?.day ?? ""}
          errors={errors}
          sx={{ width: 200 }}
        />
        <Button type="submit" disabled={isBusy}>
          Leave them alone until then
        </Button>
      </ActionForm>
    </Panel>
  );
}
