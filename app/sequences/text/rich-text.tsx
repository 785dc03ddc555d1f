/** The editor of an email's text: what is typed looks as it will be read; what is stored is Markdown with Liquid. */
import Box from "@mui/material/Box";
import type { Editor } from "@tiptap/core";
import { EditorContent, useEditor } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { useEffect, useRef } from "react";
import { readText, type TextDocument, writeText } from "../../../core/writing/document";
import { FieldNode, LiquidNode, PictureNode } from "./chips";
import { FieldMenu, fieldSuggestion, useFieldMenu } from "./field-menu";

export interface RichTextProps {
  label: string;
  value: string;
  onChange: (text: string) => void;
  fields: readonly string[];
  /** What a field will say for the prospect that is looked at. */
  samples: Readonly<Record<string, string>>;
  invalid: boolean;
  /** Told of the editor, for the tools above it. */
  onReady?: (editor: Editor | null) => void;
  minHeight?: number;
}

export function RichText(props: RichTextProps) {
  const { value, onChange, fields, samples } = props;
  const written = useRef(value);
  const change = useRef(onChange);
  change.current = onChange;
  const menu = useFieldMenu(fields);
  const editor = useEditor({
    immediatelyRender: false,
    extensions: [
      StarterKit.configure({
        heading: { levels: [3] },
        code: false,
        codeBlock: false,
        strike: false,
        underline: false,
        horizontalRule: false,
        link: { openOnClick: false, autolink: false, HTMLAttributes: { rel: null, target: null } },
      }),
      FieldNode,
      LiquidNode,
      PictureNode,
      fieldSuggestion(menu.controller),
    ],
    content: readText(value),
    editorProps: {
      attributes: {
        role: "textbox",
        "aria-multiline": "true",
        "aria-label": props.label,
        ...(props.invalid ? { "aria-invalid": "true" } : {}),
      },
    },
    onUpdate: ({ editor: own }) => {
      const text = writeText(own.getJSON() as TextDocument);
      if (text === written.current) return;
      written.current = text;
      change.current(text);
    },
  });
  const ready = props.onReady;
  useEffect(() => ready?.(editor), [ready, editor]);
  // Undone, or written by the assistant: what comes from outside replaces what is there.
  useEffect(() => {
    if (!editor || value === written.current) return;
    written.current = value;
    editor.commands.setContent(readText(value), { emitUpdate: false });
  }, [editor, value]);
  return (
    <Box
      sx={{
        position: "relative",
        "& .tiptap": {
          typography: "letter",
          minHeight: props.minHeight ?? 150,
          outline: "none",
          overflowWrap: "anywhere",
          "& p": { mt: 0, mb: 1.25 },
          "& ul, & ol": { mt: 0, mb: 1.25, pl: 3 },
          "& li p": { mb: 0.25 },
          "& h3": { typography: "letter", fontWeight: 650, mt: 0, mb: 1 },
          "& blockquote": { m: 0, mb: 1.25, pl: 1.5, borderLeft: "2px solid", borderColor: "divider" },
          "& a": { color: "tile.main" },
        },
      }}
    >
      <EditorContent editor={editor} />
      <FieldMenu menu={menu} samples={samples} />
    </Box>
  );
}
