/** One page of what somebody looks at, as a sheet on the desk; and what is said where there is none. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { useTongue } from "../public/tongue";
import type { Reading } from "./use-reading";

export type Words = ReturnType<typeof useTongue>["t"];

export const Said = ({ children }: { children: React.ReactNode }) => (
  <Typography role="status" color="textSecondary" sx={{ textAlign: "center", py: 8 }}>
    {children}
  </Typography>
);

/** A page on the desk, its number in the margin where there is one. */
export function Sheet({
  nth,
  ratio,
  reading,
  children,
}: {
  nth: number;
  /** Width by height, so that nothing moves when it is drawn. */
  ratio?: number;
  reading: Reading;
  children: React.ReactNode;
}) {
  return (
    <Box
      ref={reading.watch}
      data-page={nth}
      sx={{
        ...{ position: "relative", maxWidth: 860, mx: "auto", mb: 2, bgcolor: "#fff", border: "1px solid" },
        ...{ borderColor: "divider", boxShadow: "0 2px 10px #0000000d", aspectRatio: ratio },
      }}
    >
      {reading.pages > 1 && (
        <Typography
          aria-hidden
          variant="letter"
          sx={{
            position: "absolute",
            left: -44,
            top: 8,
            width: 32,
            textAlign: "right",
            color: "text.secondary",
            display: { xs: "none", lg: "block" },
          }}
        >
          {nth}
        </Typography>
      )}
      {children}
    </Box>
  );
}
