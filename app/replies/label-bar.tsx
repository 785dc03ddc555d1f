/** What the reply reads as, how sure that is, and the labels, each with its key. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Reading } from "../../core/replies/sort";
import type { LabelRow } from "../../server/replies/labels";
import type { ReplyRow } from "../../server/replies/list-replies";
import { Key } from "../components/key";
import { readingWords } from "./label-words";

export function LabelBar(props: {
  reply: Pick<ReplyRow, "reading" | "label" | "kind">;
  labels: LabelRow[];
  /** Those that whoever looks may set. */
  usable: readonly LabelRow[];
  names: ReadonlyMap<string, string>;
  busy: boolean;
  onLabel: (code: string) => void;
  /** The label whose consequences the margin shows. */
  onLook: (code: string | null) => void;
}) {
  const { reply, labels, usable, names, busy, onLabel, onLook } = props;
  const set = reply.label;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 0.75 }}>
        {set ? (
          <>
            {set.byRep ? "Marked" : "Marked by itself, from plain words:"} <strong>{set.name}</strong>. Press
            another to change it.
          </>
        ) : (
          <ReadsAs reading={reply.reading} names={names} />
        )}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }} role="group" aria-label="Labels">
        {labels.map((label, index) => {
          const isSet = set?.code === label.code;
          const isRead = !set && reply.reading?.label === label.code && reply.reading.sure;
          return (
            <Button
              key={label.id}
              size="small"
              disabled={busy || !usable.includes(label)}
              aria-pressed={isSet}
              onClick={() => onLabel(label.code)}
              onMouseEnter={() => onLook(label.code)}
              onMouseLeave={() => onLook(null)}
              onFocus={() => onLook(label.code)}
              onBlur={() => onLook(null)}
              sx={{
                gap: 0.9,
                ...(isSet && {
                  bgcolor: "tile.main",
                  color: "background.paper",
                  "&:hover": { bgcolor: "tile.deep" },
                }),
                ...(isRead && { bgcolor: "kelp.wash", borderColor: "kelp.main", color: "kelp.text" }),
              }}
            >
              {index < 9 && <Key>{index + 1}</Key>}
              {label.name}
            </Button>
          );
        })}
      </Box>
    </Box>
  );
}

function ReadsAs({ reading, names }: { reading: Reading | null; names: ReadonlyMap<string, string> }) {
  if (!reading || reading.by === "nothing to read")
    return <>There is nothing to read in it. What does it mean?</>;
  if (reading.by === "grave")
    return <>It speaks of a death, or a grave illness. What it means is yours to say:</>;
  const words = readingWords(reading.label, names);
  // Nothing that is read from words is certain.
  const percent = `${Math.min(99, Math.round(100 * reading.confidence))} %`;
  if (!reading.sure)
    return (
      <>
        Unsure: it may be <strong>{words}</strong> ({percent}). Press what it is:
      </>
    );
  return (
    <>
      This reads as <strong>{words}</strong> ({percent}). Press its number, or another:
    </>
  );
}
