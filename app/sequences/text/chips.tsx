/** Merge fields, conditions and pictures as the editor shows them: pieces that are moved and taken away whole. */
import Box from "@mui/material/Box";
import { InputRule, mergeAttributes, Node } from "@tiptap/core";
import type { NodeType } from "@tiptap/pm/model";
import { type NodeViewProps, NodeViewWrapper, ReactNodeViewRenderer } from "@tiptap/react";
import { useContext } from "react";
import { fieldCode } from "../../../core/writing/document";
import { FieldCounts } from "./field-counts";

/** What was typed to its end becomes a piece. */
const typed = (
  find: RegExp,
  type: NodeType,
  attributes: (match: RegExpMatchArray) => Record<string, unknown>,
) =>
  new InputRule({
    find,
    handler: ({ state, range, match }) => {
      state.tr.replaceWith(range.from, range.to, type.create(attributes(match)));
    },
  });

const plain = (name: unknown) => String(name).replaceAll("_", " ");

function FieldChip({ node, selected }: NodeViewProps) {
  const { name, fallback } = node.attrs as { name: string; fallback: string | null };
  const has = useContext(FieldCounts)[name];
  const have = has === undefined ? "" : `. ${has.toLocaleString("en-GB")} of the list have one`;
  return (
    <NodeViewWrapper as="span">
      <Box
        component="span"
        title={`${fallback === null ? `${plain(name)}: who has none waits` : `${plain(name)}, or “${fallback}”`}${have}`}
        sx={{
          bgcolor: "tile.wash",
          color: "tile.deep",
          borderBottom: "1px solid",
          borderColor: "tile.line",
          borderRadius: 0.5,
          px: 0.5,
          ...(selected && { outline: "2px solid", outlineColor: "tile.main" }),
        }}
      >
        {plain(name)}
        {fallback !== null && (
          <Box component="span" sx={{ opacity: 0.75 }}>
            {` or “${fallback}”`}
          </Box>
        )}
      </Box>
    </NodeViewWrapper>
  );
}

export const FieldNode = Node.create({
  name: "field",
  group: "inline",
  inline: true,
  atom: true,
  addAttributes: () => ({ name: { default: "" }, fallback: { default: null } }),
  parseHTML: () => [
    {
      tag: "span[data-field]",
      getAttrs: (element) => ({
        name: element.getAttribute("data-field"),
        fallback: element.getAttribute("data-fallback"),
      }),
    },
  ],
  renderHTML: ({ node }) => [
    "span",
    mergeAttributes({
      "data-field": node.attrs.name,
      ...(node.attrs.fallback === null ? {} : { "data-fallback": node.attrs.fallback }),
    }),
    fieldCode(node.attrs as { name: string; fallback: string | null }),
  ],
  renderText: ({ node }) => fieldCode(node.attrs as { name: string; fallback: string | null }),
  addNodeView: () => ReactNodeViewRenderer(FieldChip),
  addInputRules() {
    // Typed to the end, a field becomes a chip.
    return [
      typed(
        /\{\{\s*([a-z][a-z0-9_]*)\s*(?:\|\s*default:\s*"([^"]*)"\s*)?\}\}$/,
        this.type,
        ([, name, fallback]) => ({ name, fallback: fallback ?? null }),
      ),
    ];
  },
});

function LiquidChip({ node, updateAttributes, selected }: NodeViewProps) {
  const code = String(node.attrs.code);
  return (
    <NodeViewWrapper as="span">
      <Box
        component="span"
        onDoubleClick={() => {
          const changed = window.prompt("Condition", code);
          if (changed !== null && /^\{[{%].*[%}]\}$/.test(changed.trim()))
            updateAttributes({ code: changed.trim() });
        }}
        sx={{
          fontFamily: "monospace",
          fontSize: "0.78em",
          bgcolor: "ochre.wash",
          color: "ochre.text",
          borderRadius: 0.5,
          px: 0.5,
          ...(selected && { outline: "2px solid", outlineColor: "ochre.main" }),
        }}
      >
        {code}
      </Box>
    </NodeViewWrapper>
  );
}

export const LiquidNode = Node.create({
  name: "liquid",
  group: "inline",
  inline: true,
  atom: true,
  addAttributes: () => ({ code: { default: "" } }),
  parseHTML: () => [
    { tag: "span[data-liquid]", getAttrs: (element) => ({ code: element.getAttribute("data-liquid") }) },
  ],
  renderHTML: ({ node }) => ["span", { "data-liquid": node.attrs.code }, String(node.attrs.code)],
  renderText: ({ node }) => String(node.attrs.code),
  addNodeView: () => ReactNodeViewRenderer(LiquidChip),
  addInputRules() {
    return [typed(/\{%[^{}%]*%\}$/, this.type, ([code]) => ({ code }))];
  },
});

export const PictureNode = Node.create({
  name: "picture",
  group: "inline",
  inline: true,
  atom: true,
  addAttributes: () => ({ fileId: { default: 0 }, alt: { default: "" } }),
  parseHTML: () => [
    {
      tag: "img[data-file]",
      getAttrs: (element) => ({
        fileId: Number(element.getAttribute("data-file")),
        alt: element.getAttribute("alt") ?? "",
      }),
    },
  ],
  renderHTML: ({ node }) => [
    "img",
    {
      "data-file": node.attrs.fileId,
      src: `/files/${node.attrs.fileId}`,
      alt: node.attrs.alt,
      style: "max-width:100%;vertical-align:bottom",
    },
  ],
});
