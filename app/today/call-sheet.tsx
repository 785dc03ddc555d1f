/** What a rep has beside them while they work on somebody: number, local time, talking points, history. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MuiLink from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link, useFetcher } from "react-router";
import type { EventKind } from "../../core/events";
import type { CallSheet as Sheet } from "../../server/today/call-sheet";
import { EVENT_WORDS } from "../components/event-words";
import { MarginNote } from "../components/page";
import { dayTime, time } from "../components/words";

/** Characters of the last letters that are shown. */
const SHOWN = 260;

export function CallSheet({
  prospectId,
  text,
  now,
  zone,
}: {
  prospectId: number;
  text: string;
  now: number;
  zone: string;
}) {
  const sheet = useFetcher<Sheet | null>();
  const { load } = sheet;
  useEffect(() => {
    void load(`/today/sheet/${prospectId}`);
  }, [prospectId, load]);
  const data = sheet.data?.person.id === prospectId ? sheet.data : null;
  if (!data) return <MarginNote title="Beside you">Looking it up …</MarginNote>;
  const { person } = data;
  return (
    <>
      <MarginNote title={person.name}>
        <Typography>{[person.title, person.company].filter(Boolean).join(", ")}</Typography>
        {person.phone ? (
          <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1 }}>
            <MuiLink
              href={`tel:${person.phone.replace(/[^\d+]/g, "")}`}
              sx={{ fontWeight: 650, fontSize: 17 }}
            >
              {person.phone}
            </MuiLink>
            <Copy text={person.phone} />
          </Box>
        ) : (
          <Typography color="textSecondary" sx={{ mt: 1 }}>
            No number is known.
          </Typography>
        )}
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          {person.zone
            ? `${time(now, person.zone)} there${data.bestAt ? `; best reached around ${data.bestAt}` : ""}`
            : "Where they are is not known."}
        </Typography>
        {/^https?:/.test(person.profile) && (
          <MuiLink href={person.profile} target="_blank" rel="noreferrer" variant="body2">
            Their profile
          </MuiLink>
        )}
      </MarginNote>
      {text !== "" && (
        <MarginNote title="To say">
          <Typography
            variant="letter"
            sx={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere", fontSize: 16 }}
          >
            {text}
          </Typography>
          <Copy text={text} />
        </MarginNote>
      )}
      <MarginNote title="What was so far">
        {data.letters.map(({ from, at, text: letter }) => (
          <Box key={at} sx={{ mb: 1.25 }}>
            <Typography variant="caption" color="textSecondary">
              {from === "us" ? "You" : person.name.split(" ")[0]}, {dayTime(at, zone)}
            </Typography>
            <Typography variant="letter" sx={{ fontSize: 15, overflowWrap: "anywhere" }}>
              {letter.replace(/\s+/g, " ").slice(0, SHOWN)}
              {letter.length > SHOWN ? " …" : ""}
            </Typography>
          </Box>
        ))}
        {data.notes.map(({ text: note, by, at }) => (
          <Typography key={at} variant="body2" sx={{ mb: 0.5 }}>
            <strong>{by}</strong>: {note}
          </Typography>
        ))}
        {data.events.slice(0, 5).map(({ kind, at, detail }) => (
          <Typography key={`${kind} ${at}`} variant="body2" color="textSecondary">
            {dayTime(at, zone)}: {(EVENT_WORDS[kind as EventKind] ?? kind).toLowerCase()}
            {kind === "touch_done" && detail ? ` (${detail})` : ""}
          </Typography>
        ))}
        <Typography sx={{ mt: 1 }}>
          <Link to={`/prospects/${person.id}`}>Their whole story</Link>
        </Typography>
      </MarginNote>
    </>
  );
}

function Copy({ text }: { text: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <Button
      size="small"
      onClick={() => void navigator.clipboard?.writeText(text).then(() => setCopied(true))}
    >
      {copied ? "Copied" : "Copy"}
    </Button>
  );
}
