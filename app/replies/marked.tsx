/** A letter with the words marked that decided how it was read. */
import Box from "@mui/material/Box";

/** `marks` are [from, to) in the text, in order; what overlaps or lies outside is left plain. */
export function Marked({ text, marks }: { text: string; marks: readonly (readonly [number, number])[] }) {
  const pieces: React.ReactNode[] = [];
  let at = 0;
  for (const [from, to] of marks) {
    if (from < at || to > text.length || to <= from) continue;
    pieces.push(text.slice(at, from));
    pieces.push(
      <Box
        key={from}
        component="mark"
        sx={{ bgcolor: "kelp.wash", color: "inherit", px: 0.25, borderRadius: 0.5 }}
      >
        {text.slice(from, to)}
      </Box>,
    );
    at = to;
  }
  pieces.push(text.slice(at));
  return <>{pieces}</>;
}
