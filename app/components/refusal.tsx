import Alert from "@mui/material/Alert";
import type { FieldErrors } from "./field";

/** What a press was refused for: nothing was changed. Nothing while there is nothing to say. */
export function Refusal({ errors }: { errors: FieldErrors }) {
  const words = Object.values(errors).join(" ");
  if (!words) return null;
  return (
    <Alert severity="error" sx={{ mb: 2 }}>
      {words}
    </Alert>
  );
}
