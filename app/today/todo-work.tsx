/** How each thing on Today is done: the few buttons and fields that it needs, in its row. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import type { TodoItem } from "../../server/today/todo-item";
import { KeyButton } from "../components/key";
import { DayField, TimeField } from "../components/moment-fields";
import { PlainTextField } from "../components/plain-text-field";
import { count } from "../components/words";
import { driftWords } from "../results/drift-words";

export type Act = (intent: string, body: Record<string, unknown>) => void;

const row = { display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" } as const;

export function TodoWork({ item, act }: { item: TodoItem; act: Act }) {
  switch (item.kind) {
    case "replies":
      return (
        <Box sx={row}>
          <KeyButton variant="contained" component={Link} to="/replies" keys="Enter">
            Start reading
          </KeyButton>
        </Box>
      );
    case "call":
      return <CallWork item={item} act={act} />;
    case "social":
      return (
        <TouchWork item={item} act={act}>
          {item.step !== "profile_view" && (
            <Button onClick={() => act("accepted", { prospectId: item.person.id })}>They accepted</Button>
          )}
        </TouchWork>
      );
    case "errand":
      return "touchId" in item ? <TouchWork item={item} act={act} /> : <ReminderWork item={item} act={act} />;
    case "reminder":
    case "come_back":
    case "thanks":
      return <ReminderWork item={item} act={act} />;
    case "next_step":
      return item.reminderId === null ? (
        <NothingAhead item={item} act={act} />
      ) : (
        <ReminderWork item={item} act={act} />
      );
    case "meeting":
      return (
        <Box sx={row}>
          {item.person && (
            <Button component={Link} to={`/prospects/${item.person.id}`}>
              Look them up
            </Button>
          )}
          <Button component={Link} to={`/booked/${item.token}`} reloadDocument>
            Its page
          </Button>
        </Box>
      );
    case "meeting_over":
      return (
        <Box sx={row}>
          <KeyButton
            variant="contained"
            onClick={() => act("met", { token: item.token, how: "held" })}
            keys="D"
          >
            It took place
          </KeyButton>
          <Button onClick={() => act("met", { token: item.token, how: "missed" })}>They did not come</Button>
        </Box>
      );
    case "warm":
      return (
        <Box sx={row}>
          <KeyButton
            variant="contained"
            onClick={() => act("warm-done", { prospectId: item.person.id, text: "Rang them up." })}
            keys="D"
          >
            Rang them up
          </KeyButton>
          <WriteButton to={item.person.id} />
          {(item.visits > 0 || item.watched !== null) && (
            <Button component={Link} to={`/prospects/${item.person.id}?film=new`}>
              A film for them
            </Button>
          )}
          <KeyButton onClick={() => act("warm-skip", { prospectId: item.person.id })} keys="S">
            Leave them
          </KeyButton>
        </Box>
      );
    case "field":
      return <FieldWork key={item.first.id} item={item} act={act} />;
    case "hold":
      return (
        <Box sx={row}>
          <Button component={Link} to={holdPlace(item)}>
            {item.reason === "no_address" || item.reason === "address_not_good"
              ? "See their addresses"
              : "Open it"}
          </Button>
        </Box>
      );
    case "company":
      return (
        <Box sx={{ display: "grid", gap: 0.5, justifyItems: "start" }}>
          <KeyButton onClick={() => act("release", { companyId: item.company.companyId })} keys="D">
            {item.company.waiting === 1 ? "Let them go on" : `Let all ${item.company.waiting} go on`}
          </KeyButton>
          {item.company.waiting > 1 &&
            item.company.people.map(({ prospectId, name, sequence }) => (
              <Box key={prospectId} sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
                <Button
                  size="small"
                  variant="text"
                  onClick={() => act("release", { companyId: item.company.companyId, prospectId })}
                >
                  Only {name}
                </Button>
                <Typography variant="body2" color="text.secondary">
                  {sequence}
                </Typography>
              </Box>
            ))}
        </Box>
      );
    case "mailbox":
      return (
        <Box sx={row}>
          <Button component={Link} to={`/sending/mailboxes/${item.mailboxId}`}>
            See why
          </Button>
        </Box>
      );
    case "connection":
      return (
        <Box sx={row}>
          <Button component={Link} to={item.path}>
            See why
          </Button>
        </Box>
      );
    case "drift":
      return (
        <Box sx={{ display: "grid", gap: 1 }}>
          <Typography variant="body2">{driftWords(item.address, item)}</Typography>
          <Box sx={row}>
            <Button component={Link} to={`/sending/mailboxes/${item.mailboxId}`}>
              Open the mailbox
            </Button>
            <Button component={Link} to="/results?show=senders">
              See its weeks
            </Button>
            <KeyButton
              onClick={() => act("drift-seen", { mailboxId: item.mailboxId, of: item.of, since: item.since })}
              keys="D"
            >
              I have looked
            </KeyButton>
          </Box>
        </Box>
      );
    case "drafts":
      return null;
  }
}

function holdPlace({ reason, listId, sequenceId }: Extract<TodoItem, { kind: "hold" }>): string {
  if (reason === "likely_reply") return "/replies";
  if (reason === "undecided") return "/sending#undecided";
  if (reason === "after_restore") return "/sending#restored";
  if ((reason === "no_address" || reason === "address_not_good") && listId !== null)
    return `/lists/${listId}/addresses`;
  if (reason === "line_unread" && listId !== null) return `/lists/${listId}/research`;
  return `/sequences/${sequenceId}`;
}

/** Writes one email to whom a thing is about. */
const WriteButton = ({ to }: { to: number }) => (
  <Button component={Link} to={`/emails/new?to=${to}`}>
    Write to them
  </Button>
);

type OwnTouch = Extract<TodoItem, { touchId: number }>;

/** What can be done instead of doing it. */
function NotNow({ item, act, note }: { item: OwnTouch; act: Act; note: string }) {
  return (
    <>
      <KeyButton onClick={() => act("later", { id: item.touchId, days: 1 })} keys="L">
        Tomorrow
      </KeyButton>
      <KeyButton onClick={() => act("skip", { id: item.touchId, note })} keys="S">
        Skip
      </KeyButton>
    </>
  );
}

function TouchWork({ item, act, children }: { item: OwnTouch; act: Act; children?: React.ReactNode }) {
  const [note, setNote] = useState("");
  return (
    <Box sx={row}>
      <PlainTextField
        label="Note"
        value={note}
        onChange={({ target }) => setNote(target.value)}
        sx={{ width: 220 }}
      />
      <KeyButton variant="contained" onClick={() => act("done", { id: item.touchId, note })} keys="D">
        Done
      </KeyButton>
      <NotNow item={item} act={act} note={note} />
      {children}
    </Box>
  );
}

const OUTCOMES = [
  ["reached", "Reached"],
  ["voicemail", "Voicemail"],
  ["no_answer", "No answer"],
  ["wrong_number", "Wrong number"],
] as const;

function CallWork({ item, act }: { item: OwnTouch; act: Act }) {
  const [typed, setTyped] = useState({ note: "", next: "", nextDay: "", date: "", time: "10:00" });
  const [isLater, setLater] = useState(false);
  const { note, next, nextDay, date, time } = typed;
  const set = (name: keyof typeof typed) => (value: string) =>
    setTyped((before) => ({ ...before, [name]: value }));
  const field = (name: keyof typeof typed, label: string, width: number) => (
    <PlainTextField
      label={label}
      value={typed[name]}
      onChange={({ target }) => set(name)(target.value)}
      sx={{ width }}
    />
  );
  return (
    <Box sx={{ display: "grid", gap: 1.25 }}>
      <Box sx={row}>
        {field("note", "Note", 240)}
        {field("next", "What comes next", 200)}
        {next !== "" && <DayField label="On" value={nextDay} onChange={set("nextDay")} sx={{ width: 165 }} />}
      </Box>
      <Box sx={row}>
        {OUTCOMES.map(([outcome, words], index) => (
          <KeyButton
            key={outcome}
            variant={index === 0 ? "contained" : "outlined"}
            onClick={() => act("done", { id: item.touchId, note, outcome, next, nextDay })}
            keys={String(index + 1)}
          >
            {words}
          </KeyButton>
        ))}
        <Button onClick={() => setLater(!isLater)}>Call back at …</Button>
        <WriteButton to={item.person.id} />
        <NotNow item={item} act={act} note={note} />
      </Box>
      {isLater && (
        <Box sx={row}>
          <DayField label="Day" value={date} onChange={set("date")} sx={{ width: 165 }} />
          <TimeField label="Time, yours" value={time} onChange={set("time")} sx={{ width: 130 }} />
          <Button
            variant="contained"
            onClick={() => act("call-back", { id: item.touchId, date, time, note })}
          >
            Ring them then
          </Button>
        </Box>
      )}
      <Typography variant="body2" color="textSecondary">
        Whatever it was, {item.sequenceName} goes on as “{item.stepName}” says.
      </Typography>
    </Box>
  );
}

function ReminderWork({ item, act }: { item: Extract<TodoItem, { reminderId: number }>; act: Act }) {
  return (
    <Box sx={row}>
      <KeyButton variant="contained" onClick={() => act("reminder-done", { id: item.reminderId })} keys="D">
        Done
      </KeyButton>
      <KeyButton onClick={() => act("reminder-later", { id: item.reminderId, days: 1 })} keys="L">
        Tomorrow
      </KeyButton>
      <Button onClick={() => act("reminder-later", { id: item.reminderId, days: 5 })}>In a week</Button>
      <KeyButton onClick={() => act("reminder-skip", { id: item.reminderId })} keys="S">
        Skip
      </KeyButton>
      {item.replyId !== null && (
        <Button component={Link} to={`/replies?show=people&reply=${item.replyId}`}>
          {item.kind === "thanks" ? "Write to them" : "Their letter"}
        </Button>
      )}
      {item.replyId === null && <WriteButton to={item.person.id} />}
    </Box>
  );
}

function FieldWork({ item, act }: { item: Extract<TodoItem, { kind: "field" }>; act: Act }) {
  const [value, setValue] = useState("");
  const save = (event: React.FormEvent) => {
    event.preventDefault();
    act("fill", { prospectId: item.first.id, field: item.field, value });
  };
  return (
    <Box sx={row} component="form" onSubmit={save}>
      <PlainTextField
        label={`${item.field.replaceAll("_", " ")} of ${item.first.name}`}
        value={value}
        onChange={({ target }) => setValue(target.value)}
        helperText={[item.first.title, item.first.company].filter(Boolean).join(", ")}
        sx={{ width: 300 }}
      />
      <Button type="submit" variant="contained" disabled={value.trim() === ""}>
        Fill it in
      </Button>
      <Button component={Link} to="/sending?reason=merge_field_empty">
        Fill them in
      </Button>
    </Box>
  );
}

function NothingAhead({
  item,
  act,
}: {
  item: Extract<TodoItem, { kind: "next_step"; reminderId: null }>;
  act: Act;
}) {
  return (
    <Box sx={{ display: "grid", gap: 0.75 }}>
      {item.people.map((person) => (
        <Box key={person.id} sx={row}>
          <Typography sx={{ width: 240 }} noWrap>
            <Link to={`/prospects/${person.id}`}>{person.name}</Link>
            {person.company && `, ${person.company}`}
          </Typography>
          <Button size="small" component={Link} to={`/emails/new?to=${person.id}`}>
            Write to them
          </Button>
          <Button size="small" onClick={() => act("plan-next", { prospectId: person.id, days: 2 })}>
            In two days
          </Button>
          <Button size="small" onClick={() => act("plan-next", { prospectId: person.id, days: 7 })}>
            In a week
          </Button>
          <Button size="small" onClick={() => act("stage", { prospectId: person.id, stage: "lost" })}>
            It came to nothing
          </Button>
          <Button size="small" onClick={() => act("stage", { prospectId: person.id, stage: "won" })}>
            Won
          </Button>
        </Box>
      ))}
      {item.total > item.people.length && (
        <Typography variant="body2" color="textSecondary">
          and {count(item.total - item.people.length, "more person", "more people")}
        </Typography>
      )}
    </Box>
  );
}
