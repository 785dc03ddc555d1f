import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";

/** A text that goes elsewhere as it is: a key, a command, an address. */
export function CopiedText({ text, label }: { text: string; label: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <Box
      sx={{ display: "flex", alignItems: "flex-start", gap: 1, bgcolor: "margin", borderRadius: 1, p: 1.25 }}
    >
      <Box
        component="pre"
        aria-label={label}
        // What scrolls can be reached by keys.
        tabIndex={0}
        sx={{
          m: 0,
          flex: 1,
          minWidth: 0,
          overflowX: "auto",
          fontSize: 12.5,
          lineHeight: 1.5,
          fontFamily: "ui-monospace, monospace",
        }}
      >
        {text}
      </Box>
      <Button
        size="small"
        type="button"
        onClick={() => void navigator.clipboard?.writeText(text).then(() => setCopied(true))}
      >
        {copied ? "Copied" : "Copy"}
      </Button>
    </Box>
  );
}
