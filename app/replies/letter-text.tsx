/** The words of a letter: a usual one whole, a very long one folded, so that what can be done with it stays in reach. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Marked } from "./marked";

/** Two pages; nobody writes more to a stranger, but programs do. */
const SHOWN = 4_000;
/** Browsers part a text of 65,536 characters into two nodes, which a page that the server drew does not expect. */
const PIECE = 60_000;

export const asWritten = { whiteSpace: "pre-wrap", overflowWrap: "anywhere" } as const;

export function LetterText({ text, marks }: { text: string; marks: readonly (readonly [number, number])[] }) {
  const rest = text.slice(SHOWN);
  const pieces = Array.from({ length: Math.ceil(rest.length / PIECE) }, (_, nth) => nth * PIECE);
  return (
    <>
      <Typography variant="letter" dir="auto" sx={asWritten}>
        <Marked text={text.slice(0, SHOWN)} marks={marks} />
      </Typography>
      {pieces.length > 0 && (
        <Folded summary={`The rest of it: ${rest.length.toLocaleString("en-GB")} characters more`}>
          <Typography variant="letter" dir="auto" sx={asWritten}>
            {pieces.map((at) => (
              <span key={at}>{rest.slice(at, at + PIECE)}</span>
            ))}
          </Typography>
        </Folded>
      )}
    </>
  );
}

export function Folded({ summary, children }: { summary: string; children: React.ReactNode }) {
  return (
    <Box
      component="details"
      sx={{ mt: 1, "& > summary": { cursor: "pointer", color: "text.secondary", mb: 0.5 } }}
    >
      <summary>{summary}</summary>
      {children}
    </Box>
  );
}

/** What is said of a letter in which nobody wrote a word. */
export function withoutWords({
  hasAttached,
  hasQuoted,
}: {
  hasAttached: boolean;
  hasQuoted: boolean;
}): string {
  if (hasAttached) return "No words, only what is attached";
  return hasQuoted ? "Nothing but what it quotes" : "An empty message";
}
