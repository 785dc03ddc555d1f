/** The words of an email: its wordings, subject and text. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Chip from "@mui/material/Chip";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import type { Editor } from "@tiptap/core";
import { diffWords } from "diff";
import { Suspense, useRef, useState } from "react";
import { MAX_VARIANTS } from "../../core/sequence/limits";
import type { EmailStep, Variant } from "../../core/sequence/path";
import { letterOf, type PathProblem } from "../../core/sequence/path-problems";
import { fieldCode, readText } from "../../core/writing/document";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields";
import { FileButton } from "../components/file-button";
import { lazily } from "../components/lazily";
import { chipOf } from "./text/field-menu";
import { keepFile } from "./text/keep-file";
import { PiecesDialog } from "./text/pieces-menu";
import { RichText } from "./text/rich-text";
import { newId } from "./use-composer";

const WordingsDialog = lazily(() => import("./wordings-dialog"), "WordingsDialog");

const BriefDialog = lazily(() => import("./brief-dialog"), "BriefDialog");

/** Fields offered first; the list's own follow. */
const SHOWN_FIELDS = 8;

export interface EmailEditorProps {
  step: EmailStep;
  /** Which wording is edited. */
  variantId: string;
  onVariant: (id: string) => void;
  /** No email comes before it for sure. */
  isFirst: boolean;
  fields: readonly string[];
  samples: Readonly<Record<string, string>>;
  fileNames: Readonly<Record<number, string>>;
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
      <Wordings {...props} variant={variant} />
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

function Attachments({
  step,
  fileNames,
  onChange,
}: Pick<EmailEditorProps, "step" | "fileNames" | "onChange">) {
  const [problem, setProblem] = useState<string | null>(null);
  const [note, setNote] = useState<string | null>(null);
  const [names, setNames] = useState<Readonly<Record<number, string>>>(fileNames);
  async function attach(file: File): Promise<void> {
    const kept = await keepFile(file, "attachment");
    setNote("note" in kept ? kept.note : null);
    setProblem("problem" in kept ? kept.problem : null);
    if ("problem" in kept) return;
    setNames({ ...names, [kept.id]: kept.name });
    onChange({ ...step, attachments: [...step.attachments, kept.id] });
  }
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      {step.attachments.map((id) => (
        <Chip
          key={id}
          size="small"
          label={names[id] ?? `File ${id}`}
          component="a"
          href={`/files/${id}`}
          clickable
          onDelete={(event) => {
            event.preventDefault();
            onChange({ ...step, attachments: step.attachments.filter((each) => each !== id) });
          }}
        />
      ))}
      <FileButton
        label="Attach a file"
        name="Attachment"
        button={{ size: "small", variant: "text" }}
        onFile={(file) => void attach(file)}
      />
      {note && (
        <Typography variant="caption" color="textSecondary">
          {note}
        </Typography>
      )}
      {problem && (
        <Typography variant="caption" color="error">
          {problem}
        </Typography>
      )}
    </Box>
  );
}

/** A chip as it is written, for what is asked of the assistant. */
const textOfLeaf = ({ type, attrs }: { type: { name: string }; attrs: Record<string, unknown> }): string =>
  type.name === "field"
    ? fieldCode(attrs as { name: string; fallback: string | null })
    : type.name === "liquid"
      ? String(attrs.code)
      : type.name === "hardBreak"
        ? "\n"
        : "";

/** Up to five wordings with their weights; what differs from the first is marked. */
function Wordings(props: EmailEditorProps & { variant: Variant }) {
  const { step, variant, onVariant, onChange } = props;
  const [comparing, setComparing] = useState(false);
  const total = step.variants.reduce((sum, { weight }) => sum + weight, 0);
  const first = step.variants[0] as Variant;
  const add = () => {
    const added = { ...variant, id: newId() };
    onChange({ ...step, variants: [...step.variants, added] });
    onVariant(added.id);
  };
  const remove = () => {
    onChange({ ...step, variants: step.variants.filter(({ id }) => id !== variant.id) });
    onVariant(first.id === variant.id ? (step.variants[1]?.id ?? "") : first.id);
  };
  return (
    <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap" }}>
      {step.variants.length > 1 && (
        <>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={variant.id}
            onChange={(_, id) => id && onVariant(id)}
            aria-label="Wordings"
          >
            {step.variants.map(({ id, weight }) => (
              <ToggleButton key={id} value={id} sx={{ px: 1.5, py: 0.4, textTransform: "none" }}>
                Wording {letterOf(step, id)} · {total === 0 ? 0 : Math.round((100 * weight) / total)} %
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <TextField
            label="Weight"
            type="number"
            value={variant.weight}
            onChange={({ target }) =>
              onChange({
                ...step,
                variants: step.variants.map((each) =>
                  each.id === variant.id
                    ? { ...each, weight: Math.max(0, Math.min(100, Math.round(Number(target.value)) || 0)) }
                    : each,
                ),
              })
            }
            sx={{ width: 90 }}
          />
          {variant.id !== first.id && (
            <Button size="small" variant="text" onClick={() => setComparing(true)}>
              What differs from A
            </Button>
          )}
          <Button size="small" variant="text" onClick={remove}>
            Remove this wording
          </Button>
        </>
      )}
      {step.variants.length < MAX_VARIANTS && (
        <Button size="small" variant="text" onClick={add}>
          Try another wording
        </Button>
      )}
      <Dialog open={comparing} onClose={() => setComparing(false)} maxWidth="sm" fullWidth>
        <DialogTitle>Wording {letterOf(step, variant.id)} against A</DialogTitle>
        <DialogContent>
          <Differences before={first.subject} after={variant.subject} />
          <Differences before={first.body} after={variant.body} />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setComparing(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}

export function Differences({ before, after }: { before: string; after: string }) {
  let at = 0;
  return (
    <Typography variant="letter" sx={{ whiteSpace: "pre-wrap", mb: 1.5, overflowWrap: "anywhere" }}>
      {diffWords(before, after).map(({ value, added, removed }) => (
        <Box
          component={added ? "ins" : removed ? "del" : "span"}
          key={at++}
          sx={{
            ...(added && {
              bgcolor: "kelp.wash",
              textDecoration: "none",
              borderBottom: "2px solid",
              borderColor: "kelp.main",
            }),
            ...(removed && { bgcolor: "clay.wash" }),
          }}
        >
          {value}
        </Box>
      ))}
    </Typography>
  );
}

function Tools({
  editor,
  onDraft,
}: {
  editor: Editor | null;
  onDraft: (email: { subject: string; text: string }) => void;
}) {
  const [briefing, setBriefing] = useState(false);
  const [rewording, setRewording] = useState<string | null>(null);
  const [pieces, setPieces] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  async function addPicture(file: File): Promise<void> {
    const kept = await keepFile(file, "picture");
    if ("problem" in kept) setProblem(kept.problem);
    else
      editor
        ?.chain()
        .focus()
        .insertContent({ type: "picture", attrs: { fileId: kept.id, alt: kept.name.replace(/\.\w+$/, "") } })
        .run();
  }
  /** What is selected, or all of it. */
  const selectedText = (): string => {
    if (!editor) return "";
    const { from, to, empty } = editor.state.selection;
    return empty
      ? editor.getText({ blockSeparator: "\n\n" })
      : editor.state.doc.textBetween(from, to, "\n\n", textOfLeaf);
  };
  const [link, setLink] = useState<string | null>(null);
  const [source, setSource] = useState<string | null>(null);
  const [conditions, setConditions] = useState<HTMLElement | null>(null);
  const tool = (label: string, sign: React.ReactNode, run: () => void, active = false) => (
    <Tooltip title={label}>
      <IconButton
        size="small"
        aria-label={label}
        aria-pressed={active}
        onMouseDown={(event) => event.preventDefault()}
        onClick={run}
        sx={{ width: 30, height: 28, fontSize: 14, borderRadius: 1, ...(active && { bgcolor: "tile.wash" }) }}
      >
        {sign}
      </IconButton>
    </Tooltip>
  );
  const chain = () => editor?.chain().focus();
  return (
    <Box
      role="toolbar"
      aria-label="Formatting"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: 0.25,
        px: 1,
        py: 0.5,
        borderBottom: "1px solid",
        borderColor: "divider",
        alignItems: "center",
      }}
    >
      {tool("Bold (Ctrl B)", <strong>B</strong>, () => chain()?.toggleBold().run(), editor?.isActive("bold"))}
      {tool("Italic (Ctrl I)", <em>I</em>, () => chain()?.toggleItalic().run(), editor?.isActive("italic"))}
      {tool(
        "Link",
        "↗",
        () => setLink(String(editor?.getAttributes("link").href ?? "https://")),
        editor?.isActive("link"),
      )}
      {tool("List", "•", () => chain()?.toggleBulletList().run(), editor?.isActive("bulletList"))}
      {tool("Numbered list", "1.", () => chain()?.toggleOrderedList().run(), editor?.isActive("orderedList"))}
      {tool("Quotation", "“", () => chain()?.toggleBlockquote().run(), editor?.isActive("blockquote"))}
      {tool("Condition in the text", "if", () => setConditions(document.activeElement as HTMLElement))}
      <Tooltip title="Picture">
        <FileButton
          label="▣"
          name="Picture"
          accept="image/png,image/jpeg,image/gif"
          button={{
            size: "small",
            variant: "text",
            sx: { minWidth: 30, width: 30, height: 28, p: 0, fontSize: 14 },
          }}
          onFile={(file) => void addPicture(file)}
        />
      </Tooltip>
      <Box sx={{ flex: 1 }} />
      <Button size="small" variant="text" sx={{ py: 0 }} onClick={() => setPieces(selectedText())}>
        Pieces
      </Button>
      {problem && (
        <Snackbar open autoHideDuration={8_000} onClose={() => setProblem(null)}>
          <Alert severity="error" onClose={() => setProblem(null)}>
            {problem}
          </Alert>
        </Snackbar>
      )}
      {pieces !== null && (
        <PiecesDialog
          selected={pieces}
          onClose={() => setPieces(null)}
          onTake={(body) => {
            setPieces(null);
            editor?.chain().focus().insertContent(readText(body).content).run();
          }}
        />
      )}
      <Button size="small" variant="text" sx={{ py: 0 }} onClick={() => setBriefing(true)}>
        Draft it
      </Button>
      <Button size="small" variant="text" sx={{ py: 0 }} onClick={() => setRewording(selectedText())}>
        Other wordings
      </Button>
      {briefing && (
        <Suspense>
          <BriefDialog
            task="email"
            onClose={() => setBriefing(false)}
            onDraft={({ email }) => {
              setBriefing(false);
              if (email) onDraft(email);
            }}
          />
        </Suspense>
      )}
      {rewording !== null && (
        <Suspense>
          <WordingsDialog
            text={rewording}
            onClose={() => setRewording(null)}
            onTake={(text) => {
              setRewording(null);
              const { content } = readText(text);
              if (editor?.state.selection.empty)
                editor.commands.setContent({ type: "doc", content }, { emitUpdate: true });
              else editor?.chain().focus().insertContent(content).run();
            }}
          />
        </Suspense>
      )}
      <Button size="small" variant="text" onClick={() => setSource(editor?.getHTML() ?? "")} sx={{ py: 0 }}>
        HTML
      </Button>
      <Menu open={conditions !== null} anchorEl={conditions} onClose={() => setConditions(null)}>
        {["city", "title", "company", "country"].map((field) => (
          <MenuItem
            key={field}
            dense
            onClick={() => {
              setConditions(null);
              chain()
                ?.insertContent([
                  { type: "liquid", attrs: { code: `{% if ${field} %}` } },
                  { type: "text", text: " … " },
                  { type: "liquid", attrs: { code: "{% endif %}" } },
                ])
                .run();
            }}
          >
            Only where {field} is known
          </MenuItem>
        ))}
      </Menu>
      <Dialog open={link !== null} onClose={() => setLink(null)} fullWidth maxWidth="xs">
        <DialogTitle>Where the link leads</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            label="Address"
            value={link ?? ""}
            onChange={({ target }) => setLink(target.value)}
            helperText="https://…, or {{ booking_link }}"
            sx={{ mt: 1 }}
          />
        </DialogContent>
        <DialogActions>
          <Button
            onClick={() => {
              chain()?.unsetLink().run();
              setLink(null);
            }}
          >
            No link
          </Button>
          <Button
            variant="contained"
            onClick={() => {
              const href = (link ?? "").trim();
              if (editor?.state.selection.empty)
                chain()
                  ?.insertContent({ type: "text", text: href, marks: [{ type: "link", attrs: { href } }] })
                  .run();
              else chain()?.setLink({ href }).run();
              setLink(null);
            }}
          >
            Set the link
          </Button>
        </DialogActions>
      </Dialog>
      <Dialog open={source !== null} onClose={() => setSource(null)} fullWidth maxWidth="md">
        <DialogTitle>The text as HTML</DialogTitle>
        <DialogContent>
          <TextField
            multiline
            minRows={10}
            value={source ?? ""}
            onChange={({ target }) => setSource(target.value)}
            helperText="Paragraphs, bold, italic, links, lists, quotations and one heading stay; scripts, styles and the rest are left out."
            slotProps={{
              htmlInput: { "aria-label": "HTML", style: { fontFamily: "monospace", fontSize: 13 } },
            }}
            sx={{ mt: 1 }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setSource(null)}>Leave it as it was</Button>
          <Button
            variant="contained"
            onClick={() => {
              editor?.commands.setContent(source ?? "", { emitUpdate: true });
              setSource(null);
            }}
          >
            Take this text
          </Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}
