import Box, { type BoxProps } from "@mui/material/Box";

/** A line of a list under a thin rule. `columns`: a grid's template, by width or for all; else its parts stand side by side. */
export function Row({
  columns,
  sx = [],
  ...box
}: BoxProps & { columns?: string | Record<string, string>; "data-row"?: boolean }) {
  return (
    <Box
      {...box}
      sx={[
        { borderTop: "1px solid", borderColor: "divider", gap: 1.5, py: 0.75 },
        columns ? { display: "grid", gridTemplateColumns: columns } : { display: "flex" },
        ...(Array.isArray(sx) ? sx : [sx]),
      ]}
    />
  );
}
