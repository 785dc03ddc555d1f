/** What the reply reads as, how sure that is, and the labels, each with its key. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Reading } from "../../core/replies/sort";
import type { UserSettings } from "../../server/accounts/settings";
import type { LabelRow } from "../../server/replies/labels";
import type { ReplyRow } from "../../server/replies/list-replies";
import { Key } from "../components/key";
import { PlainSelect } from "../components/plain-select";
import { readingWords } from "./label-words";

/** On a phone it stands at the foot of the letter, where the thumb is. */
const AT_FOOT = {
  order: { xs: 9, sm: 0 },
  position: { xs: "sticky", sm: "static" },
  bottom: 0,
  zIndex: { xs: 2, sm: "auto" },
  bgcolor: { xs: "background.default", sm: "transparent" },
  boxShadow: { xs: "0 -1px 0 var(--mui-palette-divider)", sm: "none" },
  mx: { xs: -2, sm: 0 },
  px: { xs: 2, sm: 0 },
  py: { xs: 1, sm: 0 },
} as const;

export function LabelBar(props: {
  reply: Pick<ReplyRow, "reading" | "label" | "kind">;
  labels: LabelRow[];
  /** Those that whoever looks may set. */
  usable: readonly LabelRow[];
  names: ReadonlyMap<string, string>;
  busy: boolean;
  afterLabel: UserSettings["afterLabel"];
  onAfter: (after: UserSettings["afterLabel"]) => void;
  /** What else the thumb reaches, on a phone. */
  foot: React.ReactNode;
  onLabel: (code: string) => void;
  /** The label whose consequences the margin shows. */
  onLook: (code: string | null) => void;
}) {
  const { reply, labels, usable, names, busy, onLabel, onLook } = props;
  const set = reply.label;
  return (
    <Box sx={{ mt: 2, ...AT_FOOT }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 0.75 }}>
        <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
          {set ? (
            <>
              {set.byRep ? "Marked" : "Marked by itself, from plain words:"} <strong>{set.name}</strong>.
              Press another to change it.
            </>
          ) : (
            <ReadsAs reading={reply.reading} names={names} />
          )}
        </Typography>
        <Box
          component="label"
          sx={{
            display: { xs: "none", sm: "flex" },
            alignItems: "center",
            gap: 1,
            mt: 1,
            color: "text.secondary",
            typography: "body2",
          }}
        >
          Then
          <PlainSelect
            aria-label="After a label"
            value={props.afterLabel}
            onChange={(after) => props.onAfter(after as UserSettings["afterLabel"])}
            options={[
              ["settled", "the next, if nothing is to be answered"],
              ["next", "the next, at once"],
              ["stay", "stay with it"],
            ]}
            sx={{ width: 292, "& select": { py: 0.4, typography: "body2" } }}
          />
        </Box>
      </Box>
      <Box
        sx={{
          display: { xs: "grid", sm: "flex" },
          gridTemplateColumns: "repeat(auto-fill, minmax(82px, 1fr))",
          flexWrap: "wrap",
          gap: 0.75,
          alignItems: "center",
        }}
        role="group"
        aria-label="Labels"
      >
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
                px: { xs: 0.5, sm: 1.75 },
                fontSize: { xs: 12.5, sm: 13 },
                whiteSpace: { xs: "normal", sm: "nowrap" },
                lineHeight: 1.25,
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
      <Box sx={{ display: { xs: "flex", sm: "none" }, gap: 0.75, mt: 0.75, "& > *": { flex: 1 } }}>
        {props.foot}
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
