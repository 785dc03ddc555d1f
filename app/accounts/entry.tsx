import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Mark } from "../desk/mark";

/** The pages before the desk: a sheet of paper on a band of tiles. */
export function Entry({
  heading,
  text,
  children,
}: {
  heading: string;
  text: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <Box sx={{ minHeight: "100dvh", display: "grid", gridTemplateColumns: { xs: "1fr", md: "360px 1fr" } }}>
      <Box
        aria-hidden
        sx={{
          display: { xs: "none", md: "block" },
          bgcolor: "tile.deep",
          backgroundImage: "url(/mark.svg)",
          backgroundSize: "60px 60px",
          opacity: 0.94,
        }}
      />
      <Box
        component="main"
        sx={{ display: "grid", placeItems: "center", p: 3, height: "100dvh", overflowY: "auto" }}
      >
        <Box sx={{ width: 1, maxWidth: 430 }}>
          <Box sx={{ display: "flex", alignItems: "center", gap: 1.2, mb: 4 }}>
            <Mark size={32} />
            <Typography component="span" variant="letter" sx={{ fontSize: 26, fontStyle: "italic" }}>
              Saudade
            </Typography>
          </Box>
          <Typography variant="h1">{heading}</Typography>
          <Typography color="textSecondary" component="div" sx={{ mt: 1, mb: 3 }}>
            {text}
          </Typography>
          {children}
        </Box>
      </Box>
    </Box>
  );
}
