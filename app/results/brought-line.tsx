/** What a text brought so far, in one line where it is chosen or written; nothing where it was never sent. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { type Brought, LEAST_REACHED } from "../../core/results/worked";
import { broughtWords } from "./words";

export function BroughtLine({ brought, sx = {} }: { brought: Brought; sx?: object }) {
  if (brought.reached === 0) return null;
  const isKnown = brought.reached >= LEAST_REACHED && brought.positive > 0;
  return (
    <Typography
      variant="caption"
      component="p"
      sx={{ color: isKnown ? "kelp.deep" : "text.secondary", ...sx }}
    >
      {isKnown && (
        <Box
          component="span"
          aria-hidden
          sx={{
            display: "inline-block",
            width: 7,
            height: 7,
            borderRadius: "50%",
            bgcolor: "kelp.main",
            mr: 0.75,
          }}
        />
      )}
      {broughtWords(brought)}
    </Typography>
  );
}
