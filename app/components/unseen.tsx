/** What only a screen reader tells. */
import Box from "@mui/material/Box";

export const UNSEEN = {
  position: "absolute",
  width: "1px",
  height: "1px",
  overflow: "hidden",
  clipPath: "inset(50%)",
  userSelect: "none",
  whiteSpace: "nowrap",
} as const;

export function Unseen({ children }: { children: React.ReactNode }) {
  return (
    <Box component="span" sx={UNSEEN}>
      {children}
    </Box>
  );
}
