import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import type { StepPreview as Preview } from "../../server/sequences/preview-step";

/** The selected step as one prospect of the list will read it. */
export function StepPreview({ preview, onTurn }: { preview: Preview | null; onTurn: (by: number) => void }) {
  if (!preview) return <Typography color="textSecondary">Reading …</Typography>;
  if (!preview.prospect)
    return (
      <Typography color="textSecondary">
        Choose a list under “Who, when, from where”, and its people can be leafed through here.
      </Typography>
    );
  const { prospect } = preview;
  return (
    <Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1.5 }}>
        <Typography sx={{ flex: 1 }}>
          To <strong>{prospect.name}</strong>
          {prospect.company && `, ${prospect.company}`}{" "}
          <Box component="span" sx={{ color: "text.secondary" }}>
            from {preview.from}
          </Box>
        </Typography>
        <Typography variant="body2" color="textSecondary">
          Prospect {preview.index + 1} of {preview.total}
        </Typography>
        <IconButton size="small" aria-label="Prospect before" onClick={() => onTurn(-1)}>
          ‹
        </IconButton>
        <IconButton size="small" aria-label="Next prospect" onClick={() => onTurn(1)}>
          ›
        </IconButton>
      </Box>
      <Letter preview={preview} />
    </Box>
  );
}

/** A message as it is read, or what keeps it from being filled in. */
export function Letter({ preview }: { preview: Preview }) {
  const { rendered, prospect } = preview;
  if (!rendered) return <Typography color="textSecondary">There is nothing to read in this step.</Typography>;
  if (!rendered.ok)
    return (
      <Alert severity="warning">
        {rendered.emptyField === null
          ? rendered.error
          : `${prospect?.name} has no ${rendered.emptyField.replaceAll("_", " ")}. They will wait until it is filled in, or give the field a fallback: {{ ${rendered.emptyField} | default: "…" }}`}
      </Alert>
    );
  const subject =
    preview.template === null
      ? "What you do yourself"
      : `${preview.sameThread ? "Re: " : ""}${rendered.subject}`;
  return (
    <Box data-testid="preview">
      <Typography
        variant="letter"
        color="textSecondary"
        sx={{ pb: 1, mb: 1.5, borderBottom: "1px solid", borderColor: "divider" }}
      >
        {subject}
      </Typography>
      {preview.html ? (
        <Box
          sx={{
            typography: "letter",
            "& p": { mt: 0, mb: 1.25 },
            "& a": { color: "tile.main" },
            overflowWrap: "anywhere",
          }}
          // Sanitised where it is made, in core/writing/format.ts: no scripts, styles or handlers.
          // biome-ignore lint/security/noDangerouslySetInnerHtml: shows the very HTML that is sent
          dangerouslySetInnerHTML={{ __html: preview.html }}
        />
      ) : (
        <Typography variant="letter" sx={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}>
          {rendered.body || "No words: the touch itself says enough."}
        </Typography>
      )}
    </Box>
  );
}
