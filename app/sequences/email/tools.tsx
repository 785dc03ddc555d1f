/** What is done with the text of an email beside typing: marks, links, pictures, pieces, and drafts from outside. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Snackbar from "@mui/material/Snackbar";
import TextField from "@mui/material/TextField";
import Tooltip from "@mui/material/Tooltip";
import type { Editor } from "@tiptap/core";
import { Suspense, useState } from "react";
import { fieldCode, readText } from "../../../core/writing/document";
import { Confirm } from "../../components/dialogs";
import { FileButton } from "../../components/file-button";
import { lazily } from "../../components/lazily";
import { keepFile } from "../text/keep-file";
import { PiecesDialog } from "../text/pieces-menu";

const WordingsDialog = lazily(() => import("../wordings-dialog"), "WordingsDialog");
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

export function Tools({
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
  const chain = () => editor?.chain().focus();
  async function addPicture(file: File): Promise<void> {
    const kept = await keepFile(file, "picture");
    if (!kept.ok) return setProblem(Object.values(kept.errors).join(" "));
    const { id, name } = kept.value;
    chain()
      ?.insertContent({ type: "picture", attrs: { fileId: id, alt: name.replace(/\.\w+$/, "") } })
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
      <ConditionMenu
        anchor={conditions}
        onClose={() => setConditions(null)}
        onChoose={(field) =>
          chain()
            ?.insertContent([
              { type: "liquid", attrs: { code: `{% if ${field} %}` } },
              { type: "text", text: " … " },
              { type: "liquid", attrs: { code: "{% endif %}" } },
            ])
            .run()
        }
      />
      {link !== null && (
        <LinkDialog
          href={link}
          onClose={() => setLink(null)}
          onSet={(href) => {
            if (href === null) chain()?.unsetLink().run();
            else if (editor?.state.selection.empty)
              chain()
                ?.insertContent({ type: "text", text: href, marks: [{ type: "link", attrs: { href } }] })
                .run();
            else chain()?.setLink({ href }).run();
          }}
        />
      )}
      {source !== null && (
        <SourceDialog
          html={source}
          onClose={() => setSource(null)}
          onTake={(html) => editor?.commands.setContent(html, { emitUpdate: true })}
        />
      )}
    </Box>
  );
}

function ConditionMenu(props: {
  anchor: HTMLElement | null;
  onClose: () => void;
  onChoose: (field: string) => void;
}) {
  const { anchor, onClose, onChoose } = props;
  return (
    <Menu open={anchor !== null} anchorEl={anchor} onClose={onClose}>
      {["city", "title", "company", "country"].map((field) => (
        <MenuItem
          key={field}
          dense
          onClick={() => {
            onClose();
            onChoose(field);
          }}
        >
          Only where {field} is known
        </MenuItem>
      ))}
    </Menu>
  );
}

/** `onSet` gets null for no link. */
function LinkDialog(props: { href: string; onClose: () => void; onSet: (href: string | null) => void }) {
  const [href, setHref] = useState(props.href);
  const set = (to: string | null) => {
    props.onSet(to);
    props.onClose();
  };
  return (
    <Confirm
      title="Where the link leads"
      keep="Leave it"
      act="Set the link"
      other={<Button onClick={() => set(null)}>No link</Button>}
      width="xs"
      onClose={props.onClose}
      onAct={() => set(href.trim())}
    >
      <TextField
        autoFocus
        label="Address"
        value={href}
        onChange={({ target }) => setHref(target.value)}
        helperText="https://…, or {{ booking_link }}"
        sx={{ mt: 1 }}
      />
    </Confirm>
  );
}

function SourceDialog(props: { html: string; onClose: () => void; onTake: (html: string) => void }) {
  const [html, setHtml] = useState(props.html);
  return (
    <Confirm
      title="The text as HTML"
      keep="Leave it as it was"
      act="Take this text"
      width="md"
      onClose={props.onClose}
      onAct={() => {
        props.onTake(html);
        props.onClose();
      }}
    >
      <TextField
        multiline
        minRows={10}
        value={html}
        onChange={({ target }) => setHtml(target.value)}
        helperText="Paragraphs, bold, italic, links, lists, quotations and one heading stay; scripts, styles and the rest are left out."
        slotProps={{ htmlInput: { "aria-label": "HTML", style: { fontFamily: "monospace", fontSize: 13 } } }}
        sx={{ mt: 1 }}
      />
    </Confirm>
  );
}
