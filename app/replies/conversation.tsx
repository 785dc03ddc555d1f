import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { ConversationItem } from "../../server/replies/conversation";
import { Pill } from "../components/pill";
import { count, dayTime } from "../components/words";
import { asWritten, Folded, LetterText, withoutWords } from "./letter-text";

const KINDS = {
  step: null,
  answer: "your answer",
  invitation: "invitation to the call",
  challenge: "asks for a confirmation",
  person: null,
  automatic: "automatic answer",
  left: "works there no longer",
  bounce: "delivery report",
  delay: "still on its way",
  complaint: "complaint",
  notice: "notice",
  receipt: "receipt",
} as const;

/**
 * What was written to and fro, as letters. `from` is the message to begin with: what came before it
 * is folded away below.
 */
export function Conversation({
  items,
  zone,
  from,
  marks = [],
  onDrop,
}: {
  items: ConversationItem[];
  zone: string;
  from?: string;
  /** Words of the first message that are marked. */
  marks?: readonly (readonly [number, number])[];
  /** Takes back an answer that has not gone yet. */
  onDrop?: (touchId: number) => void;
}) {
  const begin = Math.max(
    0,
    items.findIndex(({ id }) => id === from),
  );
  const earlier = items.slice(0, begin);
  const ours = earlier.filter((item) => item.from === "us").length;
  return (
    <>
      <Letters items={items.slice(begin)} zone={zone} label="Conversation" marks={marks} onDrop={onDrop} />
      {earlier.length > 0 && (
        <Folded
          summary={`Earlier: ${count(ours, "email")} from you${
            earlier.length > ours ? `, ${count(earlier.length - ours, "message")} from them` : ""
          }`}
        >
          <Letters items={earlier.toReversed()} zone={zone} label="Earlier" />
        </Folded>
      )}
    </>
  );
}

function Letters({
  items,
  zone,
  label,
  marks = [],
  onDrop,
}: {
  items: ConversationItem[];
  zone: string;
  label: string;
  marks?: readonly (readonly [number, number])[];
  onDrop?: ((touchId: number) => void) | undefined;
}) {
  return (
    <Box
      component="ol"
      aria-label={label}
      sx={{ listStyle: "none", m: 0, p: 0, display: "grid", gridTemplateColumns: "minmax(0, 1fr)", gap: 1.5 }}
    >
      {items.map((item, index) => (
        <Box
          component="li"
          key={item.id}
          sx={{
            bgcolor: "background.paper",
            border: "1px solid",
            borderColor: "divider",
            borderLeft: "3px solid",
            borderLeftColor:
              item.from === "us" ? "tile.main" : item.kind === "person" ? "kelp.main" : "ochre.main",
            borderRadius: 1,
            px: 2.25,
            py: 1.5,
          }}
        >
          <Box
            sx={{
              display: "flex",
              gap: 1.5,
              alignItems: "baseline",
              flexWrap: { xs: "wrap", sm: "nowrap" },
              mb: 0.75,
            }}
          >
            <Typography variant="body2" sx={{ fontWeight: 600 }}>
              {item.who}
            </Typography>
            <Typography
              variant="body2"
              color="textSecondary"
              noWrap
              sx={{ flex: { xs: "1 0 100%", sm: 1 }, order: { xs: 1, sm: 0 } }}
            >
              {item.subject}
            </Typography>
            {KINDS[item.kind] && <Pill tone={item.from === "us" ? "tile" : "ochre"}>{KINDS[item.kind]}</Pill>}
            {item.state === "queued" && (
              <Pill tone="ochre">
                {item.dueAt === null
                  ? "goes out in a moment"
                  : `goes ${dayTime(item.dueAt, zone)}${item.unlessReply ? ", unless they write" : ""}`}
              </Pill>
            )}
            {item.state === "queued" && item.dueAt !== null && onDrop && (
              <Button size="small" onClick={() => onDrop(Number(item.id.slice(1)))}>
                Do not send
              </Button>
            )}
            {item.state === "claimed" && <Pill tone="ochre">on its way</Pill>}
            {item.state === "refused" && <Pill tone="clay">did not go</Pill>}
            {item.state !== "queued" && (
              <Typography variant="body2" color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
                {dayTime(item.at, zone)}
              </Typography>
            )}
          </Box>
          <LetterText text={item.text} marks={index === 0 ? marks : []} />
          {item.text.trim() === "" && (
            <Typography color="textSecondary">
              {withoutWords({ hasAttached: item.attached.length > 0, hasQuoted: item.quoted !== "" })}
            </Typography>
          )}
          {item.quoted !== "" && (
            <Folded summary="What it quotes">
              <Typography variant="body2" color="textSecondary" dir="auto" sx={asWritten}>
                {item.quoted}
              </Typography>
            </Folded>
          )}
          {item.attached.length > 0 && (
            <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75, overflowWrap: "anywhere" }}>
              Attached: {item.attached.join(", ")}
            </Typography>
          )}
          {item.problem && (
            <Typography variant="body2" sx={{ mt: 1, color: "clay.main", overflowWrap: "anywhere" }}>
              {item.problem}
            </Typography>
          )}
        </Box>
      ))}
    </Box>
  );
}
