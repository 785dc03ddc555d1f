/** The rep's own touches on Today: what to do, for whom, with the words ready; and the drafts that wait for a yes. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import MuiLink from "@mui/material/Link";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useFetcher } from "react-router";
import { CHANNEL_OF } from "../../core/sequence/path";
import type { Draft, HeldCompany, OwnTouch } from "../../server/today/own-touches";
import { Pill } from "../components/pill";
import { count, time, when } from "../components/words";
import { KIND_WORDS } from "../sequences/plan-drawing";
import { Shape } from "../timeline/shapes";

type Send = (intent: string, body: Record<string, unknown>) => void;

function useTouches(): { send: Send; problem: string | null } {
  const act = useFetcher<{ problem: string | null }>();
  return {
    send: (intent, body) =>
      act.submit(JSON.stringify({ intent, ...body }), {
        method: "post",
        action: "/?index",
        encType: "application/json",
      }),
    problem: act.state === "idle" ? (act.data?.problem ?? null) : null,
  };
}

function Section({
  title,
  note,
  children,
}: {
  title: string;
  note?: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <Box component="section" sx={{ mb: 4 }} aria-label={title}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1.5, mb: 1 }}>
        <Typography variant="h2">{title}</Typography>
        {note}
      </Box>
      {children}
    </Box>
  );
}

const OUTCOMES = {
  reached: "Reached",
  voicemail: "Voicemail",
  no_answer: "No answer",
  wrong_number: "Wrong number",
} as const;

export function OwnTouches({
  touches,
  total,
  now,
  zone,
}: {
  touches: OwnTouch[];
  total: number;
  now: number;
  zone: string;
}) {
  const { send, problem } = useTouches();
  const [opened, setOpened] = useState<number | null>(null);
  const [all, setAll] = useState(false);
  if (total === 0) return null;
  return (
    <Section
      title="Your own touches"
      note={
        <Typography variant="body2" color="textSecondary">
          {total > touches.length
            ? `the first ${touches.length} of ${total}`
            : count(total, "touch", "touches")}
        </Typography>
      }
    >
      {problem && <Typography color="error">{problem}</Typography>}
      {touches.slice(0, all ? undefined : 2 * FEW).map((touch) => (
        <Box key={touch.id} data-row sx={{ borderTop: "1px solid", borderColor: "divider" }}>
          <Box
            component="button"
            type="button"
            aria-expanded={opened === touch.id}
            onClick={() => setOpened(opened === touch.id ? null : touch.id)}
            sx={{
              all: "unset",
              boxSizing: "border-box",
              width: "100%",
              cursor: "pointer",
              display: "flex",
              alignItems: "center",
              gap: 1.75,
              py: 1.2,
              px: 0.5,
              "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
            }}
          >
            <svg width={36} height={30} viewBox="-18 -15 36 30" aria-hidden>
              <Shape shape={CHANNEL_OF[touch.kind]} state="person" />
            </svg>
            <Box sx={{ flex: 1, minWidth: 0 }}>
              <Typography variant="h3" noWrap>
                {KIND_WORDS[touch.kind]}: {touch.name}
              </Typography>
              <Typography variant="body2" color="textSecondary" noWrap>
                {[touch.company, touch.stepName, touch.sequenceName].filter(Boolean).join(" · ")}
              </Typography>
            </Box>
            {now - touch.dueAt > 864e5 && <Pill tone="clay">since {when(touch.dueAt, now, zone)}</Pill>}
            {touch.zone && (
              <Typography variant="body2" color="textSecondary">
                {time(now, touch.zone)} there
              </Typography>
            )}
          </Box>
          {opened === touch.id && <TouchSheet touch={touch} send={send} />}
        </Box>
      ))}
      <ShowAll all={all || touches.length <= 2 * FEW} number={touches.length} onPress={() => setAll(true)} />
    </Section>
  );
}

/** The words ready to copy, the number or the profile one press away, and how it ends. */
function TouchSheet({ touch, send }: { touch: OwnTouch; send: Send }) {
  const [outcome, setOutcome] = useState("reached");
  const [note, setNote] = useState("");
  const [copied, setCopied] = useState(false);
  const isCall = touch.kind === "call";
  return (
    <Box sx={{ pl: 6.75, pb: 2, display: "grid", gap: 1.25 }}>
      {touch.text !== "" && (
        <Typography variant="letter" sx={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}>
          {touch.text}
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        {isCall &&
          (touch.phone ? (
            <MuiLink href={`tel:${touch.phone}`} sx={{ fontWeight: 650 }}>
              {touch.phone}
            </MuiLink>
          ) : (
            <Typography color="textSecondary">No number is known.</Typography>
          ))}
        {!isCall && /^https?:/.test(touch.profile) && (
          <MuiLink href={touch.profile} target="_blank" rel="noreferrer">
            Open their profile
          </MuiLink>
        )}
        <Link to={`/prospects/${touch.prospectId}`}>{touch.name}’s story</Link>
        {touch.text !== "" && (
          <Button
            size="small"
            onClick={() => {
              void navigator.clipboard?.writeText(touch.text);
              setCopied(true);
            }}
          >
            {copied ? "Copied" : "Copy the text"}
          </Button>
        )}
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        {isCall && (
          <TextField
            select
            label="How it went"
            value={outcome}
            onChange={({ target }) => setOutcome(target.value)}
            sx={{ width: 150 }}
          >
            {Object.entries(OUTCOMES).map(([value, words]) => (
              <MenuItem key={value} value={value}>
                {words}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          label="Note"
          value={note}
          onChange={({ target }) => setNote(target.value)}
          sx={{ width: 260 }}
        />
        <Button
          variant="contained"
          onClick={() => send("done", { id: touch.id, note, ...(isCall ? { outcome } : {}) })}
        >
          Done
        </Button>
        <Button onClick={() => send("later", { id: touch.id, days: 1 })}>Tomorrow</Button>
        <Button onClick={() => send("skip", { id: touch.id, note })}>Skip</Button>
        {touch.kind === "invitation" || touch.kind === "social_message" ? (
          <Button variant="text" onClick={() => send("accepted", { prospectId: touch.prospectId })}>
            They accepted
          </Button>
        ) : null}
      </Box>
    </Box>
  );
}

export function Drafts({
  drafts,
  total,
  now,
  zone,
}: {
  drafts: Draft[];
  total: number;
  now: number;
  zone: string;
}) {
  const { send, problem } = useTouches();
  const [chosen, setChosen] = useState<number[]>([]);
  const [opened, setOpened] = useState<number | null>(null);
  const [all, setAll] = useState(false);
  if (total === 0) return null;
  const ids = drafts.map(({ id }) => id);
  const some = chosen.filter((id) => ids.includes(id));
  return (
    <Section
      title="Emails that wait for your yes"
      note={
        <>
          <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
            {total > drafts.length ? `the first ${drafts.length} of ${total}` : count(total, "draft")}
          </Typography>
          <Button
            variant={some.length > 0 ? "contained" : "outlined"}
            onClick={() => {
              send("approve", { ids: some.length > 0 ? some : ids });
              setChosen([]);
            }}
          >
            {some.length > 0 ? `Say yes to ${some.length}` : `Say yes to all ${ids.length}`}
          </Button>
        </>
      }
    >
      {problem && <Typography color="error">{problem}</Typography>}
      {drafts.slice(0, all ? undefined : FEW).map((draft) => (
        <Box key={draft.id} data-row sx={{ borderTop: "1px solid", borderColor: "divider" }}>
          <Box sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.9 }}>
            <Checkbox
              size="small"
              checked={some.includes(draft.id)}
              onChange={({ target }) =>
                setChosen(target.checked ? [...some, draft.id] : some.filter((id) => id !== draft.id))
              }
              slotProps={{ input: { "aria-label": `Choose the email to ${draft.name}` } }}
            />
            <Box
              component="button"
              type="button"
              aria-expanded={opened === draft.id}
              onClick={() => setOpened(opened === draft.id ? null : draft.id)}
              sx={{
                all: "unset",
                cursor: "pointer",
                flex: 1,
                minWidth: 0,
                "&:focus-visible": { outline: "2px solid", outlineColor: "tile.main" },
              }}
            >
              <Typography variant="h3" noWrap>
                {draft.name}
                <Box component="span" sx={{ fontWeight: 400, color: "text.secondary" }}>
                  {draft.company && `, ${draft.company}`}
                </Box>
              </Typography>
              <Typography variant="body2" color="textSecondary" noWrap>
                {draft.subject} · {draft.body.replace(/\s+/g, " ").slice(0, 120)}
              </Typography>
            </Box>
            <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
              {draft.dueAt > now ? `goes ${when(draft.dueAt, now, zone)}` : "due"}
            </Typography>
          </Box>
          {opened === draft.id && <DraftSheet key={draft.id} draft={draft} send={send} />}
        </Box>
      ))}
      <ShowAll all={all} number={drafts.length} onPress={() => setAll(true)} />
    </Section>
  );
}

/** So many stand on Today before the rest is asked for. */
const FEW = 4;

function ShowAll({ all, number, onPress }: { all: boolean; number: number; onPress: () => void }) {
  if (all || number <= FEW) return null;
  return (
    <Button variant="text" size="small" onClick={onPress}>
      Show all {number}
    </Button>
  );
}

function DraftSheet({ draft, send }: { draft: Draft; send: Send }) {
  const [subject, setSubject] = useState(draft.subject);
  const [body, setBody] = useState(draft.body);
  const isChanged = subject !== draft.subject || body !== draft.body;
  return (
    <Box sx={{ pl: 5.5, pb: 2, display: "grid", gap: 1.25 }}>
      <TextField
        label="Subject"
        value={subject}
        onChange={({ target }) => setSubject(target.value)}
        sx={{ "& input": { typography: "letter" } }}
      />
      <TextField
        label="Text"
        multiline
        minRows={4}
        value={body}
        onChange={({ target }) => setBody(target.value)}
        sx={{ "& textarea": { typography: "letter" } }}
      />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button
          variant="contained"
          onClick={() =>
            send(isChanged ? "edit_approve" : "approve", { id: draft.id, ids: [draft.id], subject, body })
          }
        >
          {isChanged ? "Keep the change and say yes" : "Say yes"}
        </Button>
        {isChanged && (
          <Button onClick={() => send("edit", { id: draft.id, subject, body })}>Keep the change</Button>
        )}
        <Box sx={{ flex: 1 }} />
        <Button onClick={() => send("drop", { id: draft.id })}>Leave this one out</Button>
      </Box>
    </Box>
  );
}

export function HeldCompanies({ companies }: { companies: HeldCompany[] }) {
  const { send } = useTouches();
  if (companies.length === 0) return null;
  return (
    <Section title="Colleagues who wait">
      {companies.map(({ companyId, company, who, waiting }) => (
        <Box
          key={companyId}
          data-row
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 1.75,
            borderTop: "1px solid",
            borderColor: "divider",
            py: 1.2,
            px: 0.5,
          }}
        >
          <Pill tone="ochre">{count(waiting, "person", "people")}</Pill>
          <Typography sx={{ flex: 1 }}>
            at <strong>{company}</strong> {waiting === 1 ? "waits" : "wait"}, since {who ?? "somebody there"}{" "}
            answered
          </Typography>
          <Button onClick={() => send("release", { companyId })}>Let them go on</Button>
        </Box>
      ))}
    </Section>
  );
}
