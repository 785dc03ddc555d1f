/** Emails that wait for the rep's yes: read, changed, and said yes to one by one or all together. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import { Suspense, useState } from "react";
import type { Draft } from "../../server/today/own-touches";
import { lazily } from "../components/lazily";
import { PlainTextField } from "../components/plain-text-field";
import { count, when } from "../components/words";
import type { Act } from "./todo-work";

const RichText = lazily(() => import("../sequences/text/rich-text"), "RichText");

export function Drafts({
  drafts,
  total,
  now,
  zone,
  act: send,
}: {
  drafts: Draft[];
  total: number;
  now: number;
  zone: string;
  act: Act;
}) {
  const [chosen, setChosen] = useState<number[]>([]);
  const [opened, setOpened] = useState<number | null>(null);
  const [all, setAll] = useState(false);
  if (total === 0) return null;
  const ids = drafts.map(({ id }) => id);
  const some = chosen.filter((id) => ids.includes(id));
  return (
    <Box component="section" aria-label="Emails that wait for your yes">
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
        <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
          {total > drafts.length ? `The first ${drafts.length} of ${total}` : count(total, "draft")}
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
      </Box>
      {drafts.slice(0, all ? undefined : FEW).map((draft) => (
        <Box key={draft.id} sx={{ borderTop: "1px solid", borderColor: "divider" }}>
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
                {draft.subject} · {draft.words.replace(/\s+/g, " ").slice(0, 120)}
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
    </Box>
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

function DraftSheet({ draft, send }: { draft: Draft; send: Act }) {
  const [subject, setSubject] = useState(draft.subject);
  const [body, setBody] = useState(draft.body);
  const isChanged = subject !== draft.subject || body !== draft.body;
  return (
    <Box sx={{ pl: 5.5, pb: 2, display: "grid", gap: 1.25 }}>
      <PlainTextField
        label="Subject"
        value={subject}
        onChange={({ target }) => setSubject(target.value)}
        sx={{ "& input": { typography: "letter" } }}
      />
      <Suspense fallback={<Box sx={{ minHeight: 140 }} />}>
        <Box
          sx={{
            border: "1px solid",
            borderColor: "divider",
            borderRadius: 1,
            bgcolor: "background.paper",
            px: 1.75,
            pt: 1.25,
          }}
        >
          <RichText
            label="Text"
            value={body}
            onChange={setBody}
            fields={[]}
            samples={{}}
            invalid={body.trim() === ""}
            minHeight={110}
          />
        </Box>
      </Suspense>
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
