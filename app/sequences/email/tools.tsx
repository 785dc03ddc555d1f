/** What is done with the text of an email beside typing: marks, links, pictures, pieces, and drafts from outside. */
import CallSplit from "@mui/icons-material/CallSplit";
import FormatBold from "@mui/icons-material/FormatBold";
import FormatItalic from "@mui/icons-material/FormatItalic";
import FormatListBulleted from "@mui/icons-material/FormatListBulleted";
import FormatListNumbered from "@mui/icons-material/FormatListNumbered";
import FormatQuote from "@mui/icons-material/FormatQuote";
import ImageOutlined from "@mui/icons-material/ImageOutlined";
import LinkIcon from "@mui/icons-material/Link";
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Snackbar from "@mui/material/Snackbar";
import Tooltip from "@mui/material/Tooltip";
import type { Content, Editor } from "@tiptap/core";
import { Suspense, useState } from "react";
import { fieldCode, readText } from "../../../core/writing/document";
import { FileButton } from "../../components/file-button";
import { lazily } from "../../components/lazily";
import { keepFile } from "../text/keep-file";

const ConditionMenu = lazily(() => import("./tool-dialogs"), "ConditionMenu");
const LinkDialog = lazily(() => import("./tool-dialogs"), "LinkDialog");
const SourceDialog = lazily(() => import("./tool-dialogs"), "SourceDialog");
const WordingsDialog = lazily(() => import("../wordings-dialog"), "WordingsDialog");
const PiecesDialog = lazily(() => import("../text/pieces-menu"), "PiecesDialog");
const BriefDialog = lazily(() => import("../brief-dialog"), "BriefDialog");

/** A chip as it is written, for what is asked of the assistant. */
const textOfLeaf = ({ type, attrs }: { type: { name: string }; attrs: Record<string, unknown> }): string =>
  type.name === "field"
    ? fieldCode(attrs as { name: string; fallback: string | null })
    : type.name === "liquid"
      ? String(attrs.code)
      : type.name === "hardBreak"
        ? "\n"
        : "";

/** What a tool has opened, with what it begins with. */
type Open =
  | { is: "brief" }
  | { is: "wordings" | "pieces" | "link" | "source" | "problem"; text: string }
  | { is: "conditions"; at: HTMLElement };

export function Tools({
  editor,
  onDraft,
}: {
  editor: Editor | null;
  onDraft: (email: { subject: string; text: string }) => void;
}) {
  const [open, setOpen] = useState<Open | null>(null);
  const chain = () => editor?.chain().focus();
  async function addPicture(file: File): Promise<void> {
    const kept = await keepFile(file, "picture");
    if (!kept.ok) return setOpen({ is: "problem", text: Object.values(kept.errors).join(" ") });
    const { id, name } = kept.value;
    chain()
      ?.insertContent({ type: "picture", attrs: { fileId: id, alt: name.replace(/\.\w+$/, "") } })
      .run();
  }
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
      <Tool label="Bold (Ctrl B)" run={() => chain()?.toggleBold().run()} isOn={editor?.isActive("bold")}>
        <FormatBold fontSize="small" />
      </Tool>
      <Tool
        label="Italic (Ctrl I)"
        run={() => chain()?.toggleItalic().run()}
        isOn={editor?.isActive("italic")}
      >
        <FormatItalic fontSize="small" />
      </Tool>
      <Tool
        label="Link"
        run={() => setOpen({ is: "link", text: String(editor?.getAttributes("link").href ?? "https://") })}
        isOn={editor?.isActive("link")}
      >
        <LinkIcon fontSize="small" />
      </Tool>
      <Tool label="List" run={() => chain()?.toggleBulletList().run()} isOn={editor?.isActive("bulletList")}>
        <FormatListBulleted fontSize="small" />
      </Tool>
      <Tool
        label="Numbered list"
        run={() => chain()?.toggleOrderedList().run()}
        isOn={editor?.isActive("orderedList")}
      >
        <FormatListNumbered fontSize="small" />
      </Tool>
      <Tool
        label="Quotation"
        run={() => chain()?.toggleBlockquote().run()}
        isOn={editor?.isActive("blockquote")}
      >
        <FormatQuote fontSize="small" />
      </Tool>
      <Tool label="Condition in the text" run={(at) => setOpen({ is: "conditions", at })}>
        <CallSplit fontSize="small" />
      </Tool>
      <Tooltip title="Picture">
        <FileButton
          label={<ImageOutlined fontSize="small" />}
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
      <WordTool onPress={() => setOpen({ is: "pieces", text: selectedText(editor) })}>Pieces</WordTool>
      <WordTool onPress={() => setOpen({ is: "brief" })}>Draft it</WordTool>
      <WordTool onPress={() => setOpen({ is: "wordings", text: selectedText(editor) })}>
        Other wordings
      </WordTool>
      <WordTool onPress={() => setOpen({ is: "source", text: editor?.getHTML() ?? "" })}>HTML</WordTool>
      {open && <Opened of={open} editor={editor} onDraft={onDraft} onClose={() => setOpen(null)} />}
    </Box>
  );
}

function Tool(props: {
  label: string;
  /** Told the button, for what opens at it. */
  run: (at: HTMLElement) => void;
  isOn?: boolean | undefined;
  children: React.ReactNode;
}) {
  const { label, run, isOn = false, children } = props;
  return (
    <Tooltip title={label}>
      <IconButton
        size="small"
        aria-label={label}
        aria-pressed={isOn}
        onMouseDown={(event) => event.preventDefault()}
        onClick={({ currentTarget }) => run(currentTarget)}
        sx={{ width: 30, height: 28, fontSize: 14, borderRadius: 1, ...(isOn && { bgcolor: "tile.wash" }) }}
      >
        {children}
      </IconButton>
    </Tooltip>
  );
}

function WordTool({ onPress, children }: { onPress: () => void; children: React.ReactNode }) {
  return (
    <Button size="small" variant="text" sx={{ py: 0 }} onClick={onPress}>
      {children}
    </Button>
  );
}

/** What is selected, or all of it. */
function selectedText(editor: Editor | null): string {
  if (!editor) return "";
  const { from, to, empty } = editor.state.selection;
  return empty
    ? editor.getText({ blockSeparator: "\n\n" })
    : editor.state.doc.textBetween(from, to, "\n\n", textOfLeaf);
}

function Opened(props: {
  of: Open;
  editor: Editor | null;
  onDraft: (email: { subject: string; text: string }) => void;
  onClose: () => void;
}) {
  const { of, editor, onDraft, onClose } = props;
  const insert = (content: Content) => editor?.chain().focus().insertContent(content).run();
  switch (of.is) {
    case "problem":
      return (
        <Snackbar open autoHideDuration={8_000} onClose={onClose}>
          <Alert severity="error" onClose={onClose}>
            {of.text}
          </Alert>
        </Snackbar>
      );
    case "pieces":
      return (
        <Suspense>
          <PiecesDialog
            selected={of.text}
            onClose={onClose}
            onTake={(body) => {
              onClose();
              insert(readText(body).content);
            }}
          />
        </Suspense>
      );
    case "brief":
      return (
        <Suspense>
          <BriefDialog
            task="email"
            onClose={onClose}
            onDraft={({ email }) => {
              onClose();
              if (email) onDraft(email);
            }}
          />
        </Suspense>
      );
    case "wordings":
      return (
        <Suspense>
          <WordingsDialog
            text={of.text}
            onClose={onClose}
            onTake={(text) => {
              onClose();
              const { content } = readText(text);
              if (editor?.state.selection.empty)
                editor.commands.setContent({ type: "doc", content }, { emitUpdate: true });
              else insert(content);
            }}
          />
        </Suspense>
      );
    case "conditions":
      return (
        <Suspense>
          <ConditionMenu
            anchor={of.at}
            onClose={onClose}
            onChoose={(field) =>
              insert([
                { type: "liquid", attrs: { code: `{% if ${field} %}` } },
                { type: "text", text: " … " },
                { type: "liquid", attrs: { code: "{% endif %}" } },
              ])
            }
          />
        </Suspense>
      );
    case "link":
      return (
        <Suspense>
          <LinkDialog
            href={of.text}
            onClose={onClose}
            onSet={(href) => {
              if (href === null) editor?.chain().focus().unsetLink().run();
              else if (editor?.state.selection.empty)
                insert({ type: "text", text: href, marks: [{ type: "link", attrs: { href } }] });
              else editor?.chain().focus().setLink({ href }).run();
            }}
          />
        </Suspense>
      );
    case "source":
      return (
        <Suspense>
          <SourceDialog
            html={of.text}
            onClose={onClose}
            onTake={(html) => editor?.commands.setContent(html, { emitUpdate: true })}
          />
        </Suspense>
      );
  }
}
