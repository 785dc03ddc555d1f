import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { CopiedText } from "../components/copied-text";

/** A webhook's secret, the only time that it is shown. */
export function SecretBox({ secret, children }: { secret: string; children?: React.ReactNode }) {
  return (
    <Box role="status" sx={{ bgcolor: "kelp.wash", borderRadius: 1, p: 2, mb: 3, maxWidth: 760 }}>
      <Typography sx={{ fontWeight: 600, mb: 1 }}>
        Give the receiver this secret. It is shown this once.
      </Typography>
      <CopiedText text={secret} label="The secret" />
      {children && <Typography sx={{ mt: 1 }}>{children}</Typography>}
    </Box>
  );
}
