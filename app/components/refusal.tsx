import Alert from "@mui/material/Alert";

/** What a press was refused for: nothing was changed. Nothing while there is nothing to say. */
export function Refusal({ of: answer }: { of: unknown }) {
  const { errors, error } = (answer ?? {}) as { errors?: Record<string, string>; error?: string | null };
  const words = Object.values(errors ?? {})[0] ?? error;
  if (!words) return null;
  return (
    <Alert severity="error" sx={{ mb: 2 }}>
      {words}
    </Alert>
  );
}
