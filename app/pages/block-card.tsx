/** One block of a page as it is made: dragged by its handle, or moved by the arrow keys on it. */

import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import Close from "@mui/icons-material/Close";
import DragIndicator from "@mui/icons-material/DragIndicator";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { PublicLanguage } from "../../core/languages";
import type { Block, Definition } from "../../core/pages/template";
import type { PageEditor } from "../../server/pages/page-editor";
import { PlainSelect } from "../components/plain-select";
import { Files } from "../sequences/email/attachments";
import { BLOCK_WORDS } from "./block-words";
import { OwnPicture } from "./own-picture";

export function BlockCard(props: {
  block: Block;
  definition: Definition;
  language: PublicLanguage;
  editor: PageEditor;
  error: string | undefined;
  onChange: (block: Block) => void;
  onMove: (by: number) => void;
  /** Null where it is the last. */
  onRemove: (() => void) | null;
  children?: React.ReactNode;
}) {
  const { block, error, onMove } = props;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id: block.id });
  const { name, says } = BLOCK_WORDS[block.kind];
  return (
    <Box
      component="li"
      ref={setNodeRef}
      style={{
        transform: CSS.Translate.toString(transform),
        ...(transition !== undefined && { transition }),
      }}
      sx={{
        ...{
          border: "1px solid",
          borderColor: error ? "error.main" : "divider",
          borderRadius: 1,
          bgcolor: "background.paper",
          px: 1.5,
          py: 1.25,
        },
        ...(isDragging && { boxShadow: 4, position: "relative", zIndex: 2 }),
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.75 }}>
        <IconButton
          size="small"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${name}`}
          title="Drag it, or use the arrow keys"
          onKeyDown={(event) => {
            const by = event.key === "ArrowUp" ? -1 : event.key === "ArrowDown" ? 1 : 0;
            if (by !== 0 && !isDragging) {
              event.preventDefault();
              onMove(by);
            } else listeners?.onKeyDown?.(event);
          }}
          sx={{ cursor: "grab", ml: -1, touchAction: "none" }}
        >
          <DragIndicator fontSize="small" />
        </IconButton>
        <Typography variant="h3" component="h2">
          {name}
        </Typography>
        <Typography variant="caption" color="textSecondary" sx={{ minWidth: 0, flex: 1 }} noWrap>
          {says}
        </Typography>
        {props.onRemove && (
          <IconButton size="small" aria-label={`Take ${name} out`} onClick={props.onRemove}>
            <Close fontSize="small" />
          </IconButton>
        )}
      </Box>
      <Box sx={{ display: "grid", gap: 1.25, mt: block.kind === "company" ? 0 : 1 }}>
        <BlockFields {...props} />
        {props.children}
      </Box>
    </Box>
  );
}

const LABELS: Partial<Record<Block["kind"], string>> = {
  greeting: "What it says",
  words: "What it says",
  film: "The line below it",
  picture: "What is to be seen, in words",
  times: "The question above them",
};

function BlockFields({
  block,
  definition,
  language,
  editor,
  error,
  onChange,
}: Parameters<typeof BlockCard>[0]) {
  const text =
    "text" in block ? (
      <TextField
        label={LABELS[block.kind]}
        size="small"
        multiline={block.kind === "words"}
        minRows={block.kind === "words" ? 4 : 1}
        value={block.text[language] ?? ""}
        placeholder={
          language === definition.languages[0]
            ? ""
            : (block.text[definition.languages[0] as PublicLanguage] ?? "")
        }
        onChange={({ target }) => onChange({ ...block, text: { ...block.text, [language]: target.value } })}
        error={error !== undefined}
        helperText={
          error ??
          (block.kind === "words"
            ? "Fields as {{ first_name }}; **bold**, lists and links as in emails."
            : undefined)
        }
        slotProps={{ htmlInput: { lang: language } }}
      />
    ) : null;
  const field = "text" in block && (
    <PlainSelect
      aria-label={`Put a field into ${BLOCK_WORDS[block.kind].name}`}
      value=""
      onChange={(chosen) =>
        chosen !== "" &&
        onChange({
          ...block,
          text: { ...block.text, [language]: `${block.text[language] ?? ""}{{ ${chosen} }}` },
        })
      }
      options={[
        ["", "Put in a field …"],
        ...editor.fields.map((each) => [each, each.replaceAll("_", " ")] as const),
      ]}
      sx={{ width: 180 }}
    />
  );
  switch (block.kind) {
    case "company":
      return null;
    case "files":
      return (
        <Files
          ids={block.files}
          fileNames={editor.fileNames}
          onChange={(files) => onChange({ ...block, files })}
        />
      );
    case "picture":
      return (
        <>
          <OwnPicture fileId={block.fileId} onChange={(fileId) => onChange({ ...block, fileId })} />
          {text}
        </>
      );
    case "film":
      return (
        <>
          {text}
          <PlainSelect
            label="Beside it, before it plays"
            value={block.beside}
            onChange={(beside) => onChange({ ...block, beside: beside as "site" | "nothing" })}
            options={[
              ["site", "their web site, as it was read"],
              ["nothing", "nothing"],
            ]}
            sx={{ width: 1 }}
          />
        </>
      );
    case "times":
      return (
        <>
          {text}
          <PlainSelect
            label="Whose times"
            value={block.slug}
            onChange={(slug) => onChange({ ...block, slug })}
            options={[
              ["", "of whoever the person belongs to"],
              ...editor.bookingPages.map(
                ({ slug, name }) => [slug, `of the booking page “${name}”`] as const,
              ),
            ]}
            sx={{ width: 1 }}
          />
        </>
      );
    default:
      return (
        <>
          {text}
          {field}
        </>
      );
  }
}
