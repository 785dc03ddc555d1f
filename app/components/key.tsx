import Box from "@mui/material/Box";

/** A key of the keyboard. */
export function Key({ children }: { children: React.ReactNode }) {
  return (
    <Box
      component="kbd"
      sx={{
        fontFamily: "inherit",
        fontSize: 11.5,
        fontWeight: 600,
        color: "text.secondary",
        bgcolor: "background.paper",
        border: "1px solid",
        borderColor: "divider",
        borderBottomWidth: 2,
        borderRadius: 0.6,
        px: 0.7,
        lineHeight: 1.5,
      }}
    >
      {children}
    </Box>
  );
}
