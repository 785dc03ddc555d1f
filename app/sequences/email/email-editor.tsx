/** The words of an email: its wordings, subject and text. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Editor } from "@tiptap/core";
import { useRef, useState } from "react";
import type { EmailStep, Variant } from "../../../core/sequence/path";
import type { PathProblem } from "../../../core/sequence/path-problems";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../../core/writing/fields";
import type { WordingsSoFar } from "../../../server/sequences/share-wordings";
import { chipOf } from "../text/field-menu";
import { RichText } from "../text/rich-text";
import { Attachments } from "./attachments";
import { Tools } from "./tools";
import { Wordings } from "./wordings";

/** Fields offered first; the list's own follow. */
const SHOWN_FIELDS = 8;

interface EmailEditorProps {
  step: EmailStep;
  /** Which wording is edited. */
  variantId: string;
  onVariant: (id: string) => void;
  /** No email comes before it for sure. */
  isFirst: boolean;
  fields: readonly string[];
  samples: Readonly<Record<string, string>>;
  fileNames: Readonly<Record<number, string>>;
  wordings: WordingsSoFar;
  problems: readonly PathProblem[];
  onChange: (step: EmailStep) => void;
}

export function EmailEditor(props: EmailEditorProps) {
  const { step, isFirst, fields, problems, onChange } = props;
  const variant = step.variants.find(({ id }) => id === props.variantId) ?? (step.variants[0] as Variant);
  const set = (changes: Partial<Variant>) =>
    onChange({
      ...step,
      variants: step.variants.map((each) => (each.id === variant.id ? { ...each, ...changes } : each)),
    });
  const problem = (field: PathProblem["field"]) =>
    problems
      .filter((each) => each.field === field && (each.variantId ?? variant.id) === variant.id)
      .map(({ message }) => message)
      .join(" ");
  const [editor, setEditor] = useState<Editor | null>(null);
  const plain = useRef<HTMLTextAreaElement>(null);
  const insert = (field: string) => {
    if (step.format === "formatted") {
      editor?.chain().focus().insertContent(chipOf(field)).run();
      return;
    }
    const at = plain.current?.selectionStart ?? variant.body.length;
    const code = field === "first_name" ? '{{ first_name | default: "there" }}' : `{{ ${field} }}`;
    set({ body: variant.body.slice(0, at) + code + variant.body.slice(at) });
  };
  const common: readonly string[] = [...PROSPECT_FIELDS, ...SENDER_FIELDS];
  const own = fields.filter((field) => !common.includes(field));
  const offered = ["first_name", "company", "title", "city", "booking_link", "opt_out_link", ...own].slice(
    0,
    SHOWN_FIELDS,
  );
  return (
    <Box sx={{ display: "grid", gap: 1.75, gridTemplateColumns: "minmax(0, 1fr)" }}>
      <Wordings
        step={step}
        variant={variant}
        soFar={props.wordings}
        onVariant={props.onVariant}
        onChange={onChange}
      />
      <TextField
        name="subject"
        label="Subject"
        value={variant.subject}
        onChange={({ target }) => set({ subject: target.value })}
        error={problem("subject") !== ""}
        helperText={problem("subject") || (isFirst ? undefined : "Leave it empty to go in the same thread.")}
        sx={{ "& input": { typography: "letter" } }}
      />
      <Box
        sx={{
          border: "1px solid",
          borderColor: problem("body") === "" ? "divider" : "error.main",
          borderRadius: 1,
          "&:focus-within": { borderColor: "tile.main" },
        }}
      >
        {step.format === "formatted" && (
          <Tools
            editor={editor}
            onDraft={({ subject, text }) =>
              set({ body: text, ...(variant.subject === "" ? {} : { subject }) })
            }
          />
        )}
        <Box sx={{ px: 1.75, py: 1.25 }}>
          {step.format === "formatted" ? (
            <RichText
              key={variant.id}
              label="Text"
              value={variant.body}
              onChange={(body) => set({ body })}
              fields={fields}
              samples={props.samples}
              invalid={problem("body") !== ""}
              onReady={setEditor}
            />
          ) : (
            <TextField
              variant="standard"
              multiline
              minRows={7}
              inputRef={plain}
              value={variant.body}
              onChange={({ target }) => set({ body: target.value })}
              slotProps={{ input: { disableUnderline: true }, htmlInput: { "aria-label": "Text" } }}
              sx={{ "& textarea": { typography: "letter" } }}
            />
          )}
        </Box>
      </Box>
      {problem("body") !== "" && (
        <Typography variant="caption" color="error">
          {problem("body")}
        </Typography>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, alignItems: "center" }}>
        <Typography variant="body2" color="textSecondary">
          Put in, or type {"{"}:
        </Typography>
        {offered.map((field) => (
          <Button
            key={field}
            size="small"
            onClick={() => insert(field)}
            sx={{ py: 0, fontSize: 12.5, bgcolor: "tile.wash", borderColor: "tile.wash", color: "tile.deep" }}
          >
            {field.replaceAll("_", " ")}
          </Button>
        ))}
      </Box>
      <Attachments step={step} fileNames={props.fileNames} onChange={onChange} />
      {step.format === "plain" && (
        <Alert severity="info" sx={{ py: 0 }}>
          Plain text: no HTML is sent, so neither opens nor clicks of this email can be seen.
        </Alert>
      )}
    </Box>
  );
}
