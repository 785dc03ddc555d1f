import Box from "@mui/material/Box";

/** An interval as a bar on the scale of all, with its words. */
export function Interval({
  low,
  high,
  most,
  words,
}: {
  low: number;
  high: number;
  most: number;
  words: string;
}) {
  return (
    <Box sx={{ display: "inline-flex", alignItems: "center", gap: 1 }}>
      <Box
        component="svg"
        aria-hidden
        width={96}
        height={10}
        viewBox="0 0 100 10"
        preserveAspectRatio="none"
        sx={{ display: { xs: "none", sm: "block" }, color: "tile.line" }}
      >
        <line x1={0} x2={100} y1={5} y2={5} stroke="currentColor" strokeOpacity={0.35} />
        <rect
          x={(100 * low) / most}
          width={Math.max(1.5, (100 * (high - low)) / most)}
          y={1}
          height={8}
          rx={2}
          fill="currentColor"
        />
      </Box>
      {words}
    </Box>
  );
}
