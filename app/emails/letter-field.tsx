/** A text that is written as in a sequence: with marks, fields, pieces, pictures and drafts from outside. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields";
import { Tools } from "../sequences/email/tools";
import { RichText } from "../sequences/text/rich-text";

const FIELDS = [...PROSPECT_FIELDS, ...SENDER_FIELDS];

export function LetterField(props: {
  label: string;
  value: string;
  samples: Readonly<Record<string, string>>;
  problem: string | undefined;
  disabled?: boolean;
  minHeight?: number;
  onChange: (text: string) => void;
  onDraft: (email: { subject: string; text: string }) => void;
}) {
  const { label, value, samples, problem, onChange } = props;
  const [editor, setEditor] = useState<Editor | null>(null);
  return (
    <Box>
      <Box
        sx={{
          border: "1px solid",
          borderColor: problem ? "error.main" : "divider",
          borderRadius: 1,
          bgcolor: "background.paper",
          "&:focus-within": { borderColor: "tile.main" },
        }}
      >
        <Tools editor={editor} onDraft={props.onDraft} />
        {/* As high before the editor is there as with it. */}
        <Box sx={{ px: 1.75, py: 1.25, minHeight: (props.minHeight ?? 150) + 20 }}>
          <RichText
            label={label}
            value={value}
            onChange={onChange}
            fields={FIELDS}
            samples={samples}
            invalid={problem !== undefined}
            onReady={setEditor}
            minHeight={props.minHeight ?? 150}
          />
        </Box>
      </Box>
      {problem && (
        <Typography variant="caption" color="error">
          {problem}
        </Typography>
      )}
    </Box>
  );
}
