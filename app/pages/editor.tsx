/** Makes a page: its blocks on the left, the page as one person sees it on the right, what is missing for whom above. */

import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link, useBlocker, useSearchParams } from "react-router";
import { ownNameOf, PUBLIC_LANGUAGES, type PublicLanguage } from "../../core/languages";
import type { Block, BlockKind, Definition } from "../../core/pages/template";
import type { PageEditor } from "../../server/pages/page-editor";
import type { PersonalPage } from "../../server/pages/personal-page";
import { Confirm } from "../components/dialogs";
import { PlainSelect } from "../components/plain-select";
import { useAction, useQuestion } from "../components/use-action";
import { count } from "../components/words";
import type { Tongue } from "../public/tongue";
import { BlockCard } from "./block-card";
import { BLOCK_WORDS, lackWords, newBlock, ONCE } from "./block-words";
import { FilmChoice } from "./film-choice";
import { LinksFile } from "./links-file";
import { PageLook } from "./page-look";
import { PersonalView } from "./personal-view";

interface Seen {
  page: PersonalPage;
  link: string;
  tongue: Tongue;
}

const SETTLES = 350;

export function PageEditorView({
  editor,
  asId,
  seen,
}: {
  editor: PageEditor;
  asId: number | null;
  seen: Seen | null;
}) {
  const { template, mayChange } = editor;
  const [name, setName] = useState(template.name);
  const [definition, setDefinition] = useState<Definition>(template.definition);
  const [language, setLanguage] = useState<PublicLanguage>(
    template.definition.languages[0] as PublicLanguage,
  );
  const [saved, setSaved] = useState({
    ...{ name: template.name, definition: template.definition, revision: template.revision },
  });
  const [isNarrow, setNarrow] = useState(true);
  const [, setQuery] = useSearchParams();
  const save = useAction<number>({ as: "json" }, (revision) => setSaved({ name, definition, revision }));
  const look = useQuestion<Seen>({ as: "json" });
  const isChanged = name !== saved.name || definition !== saved.definition;
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => isChanged && currentLocation.pathname !== nextLocation.pathname,
  );
  const { ask } = look;
  useEffect(() => {
    if (asId === null || definition === saved.definition) return;
    const timer = setTimeout(() => ask({ intent: "preview", prospectId: asId, definition }), SETTLES);
    return () => clearTimeout(timer);
  }, [ask, asId, definition, saved.definition]);
  const shown = definition === saved.definition ? seen : (look.value ?? seen);
  const change = (part: Partial<Definition>) => setDefinition((before) => ({ ...before, ...part }));
  const setBlocks = (make: (blocks: Block[]) => Block[]) =>
    setDefinition((before) => ({ ...before, blocks: make(before.blocks) }));
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const move = (id: string, by: number) =>
    setBlocks((blocks) => {
      const at = blocks.findIndex((block) => block.id === id);
      const to = at + by;
      return to < 0 || to >= blocks.length ? blocks : arrayMove(blocks, at, to);
    });
  const add = (kind: BlockKind) =>
    setBlocks((blocks) => [...blocks, newBlock(kind, `${kind}-${Date.now().toString(36)}`)]);
  const addable = (Object.keys(BLOCK_WORDS) as BlockKind[]).filter(
    (kind) => !ONCE.includes(kind) || !definition.blocks.some((block) => block.kind === kind),
  );
  const set = (key: string, value: string) =>
    setQuery(
      (before) => {
        before.set(key, value);
        if (key === "list") before.delete("as");
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(400px, 460px) minmax(0, 1fr)" },
        height: 1,
        overflow: { xs: "auto", md: "hidden" },
      }}
    >
      <Box
        component="main"
        id="page"
        tabIndex={-1}
        sx={{ overflowY: { md: "auto" }, px: { xs: 2, md: 3.25 }, py: 2.5, outline: "none", minWidth: 0 }}
      >
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "flex-start", mb: 0.5 }}>
          <Typography variant="h1" sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>
            {name || "A page"}
          </Typography>
          <Button
            variant="contained"
            disabled={!mayChange || !isChanged || save.isBusy}
            onClick={() => save.press({ intent: "save", name, definition, revision: saved.revision })}
          >
            {isChanged ? "Save" : "Saved"}
          </Button>
        </Box>
        <Typography color="textSecondary" sx={{ mb: 2 }}>
          <Link to="/pages">All pages</Link> · what you save, everybody with a link sees at once
        </Typography>
        {Object.keys(save.errors).length > 0 && (
          <Alert severity="error" sx={{ mb: 2 }}>
            {save.errors.form ?? "It is not saved yet: look at what is marked below."}
          </Alert>
        )}
        <Languages
          definition={definition}
          language={language}
          onLanguage={setLanguage}
          onChange={(languages) => {
            change({ languages });
            if (!languages.includes(language)) setLanguage(languages[0] as PublicLanguage);
          }}
        />
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            if (over && active.id !== over.id)
              setBlocks((blocks) =>
                arrayMove(
                  blocks,
                  blocks.findIndex(({ id }) => id === active.id),
                  blocks.findIndex(({ id }) => id === over.id),
                ),
              );
          }}
        >
          <SortableContext
            items={definition.blocks.map(({ id }) => id)}
            strategy={verticalListSortingStrategy}
          >
            <Box
              component="ol"
              aria-label="Blocks of the page"
              sx={{
                listStyle: "none",
                m: 0,
                p: 0,
                display: "grid",
                gap: 1,
                gridTemplateColumns: "minmax(0, 1fr)",
              }}
            >
              {definition.blocks.map((block) => (
                <BlockCard
                  key={block.id}
                  block={block}
                  definition={definition}
                  language={language}
                  editor={editor}
                  error={save.errors[block.id]}
                  onChange={(changed) =>
                    setBlocks((blocks) => blocks.map((each) => (each.id === block.id ? changed : each)))
                  }
                  onMove={(by) => move(block.id, by)}
                  onRemove={
                    definition.blocks.length > 1
                      ? () => setBlocks((blocks) => blocks.filter(({ id }) => id !== block.id))
                      : null
                  }
                >
                  {block.kind === "film" && (
                    <FilmChoice
                      films={editor.films}
                      filmId={definition.filmId}
                      onChange={(filmId) => change({ filmId })}
                    />
                  )}
                </BlockCard>
              ))}
            </Box>
          </SortableContext>
        </DndContext>
        {addable.length > 0 && (
          <PlainSelect
            aria-label="Put in a block"
            value=""
            onChange={(kind) => kind !== "" && add(kind as BlockKind)}
            options={[
              ["", "Put in a block …"],
              ...addable.map(
                (kind) =>
                  [kind, `${BLOCK_WORDS[kind].name}: ${BLOCK_WORDS[kind].says.toLowerCase()}`] as const,
              ),
            ]}
            sx={{ mt: 1.5, width: 1 }}
          />
        )}
        <PageLook
          definition={definition}
          language={language}
          errors={save.errors}
          name={name}
          onName={setName}
          onChange={change}
        />
        <LinksFile templateId={template.id} listId={editor.listId} />
      </Box>
      <Box
        component="aside"
        aria-label="The page as somebody sees it"
        tabIndex={0}
        sx={{
          bgcolor: "margin",
          borderLeft: "1px solid",
          borderColor: "divider",
          overflowY: { md: "auto" },
          px: 2.5,
          py: 2.5,
          minWidth: 0,
        }}
      >
        <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", mb: 1.5, alignItems: "center" }}>
          <PlainSelect
            label="Of the list"
            value={String(editor.listId ?? "")}
            onChange={(chosen) => set("list", chosen)}
            options={[
              ...(editor.listId === null ? ([["", "No list yet"]] as const) : []),
              ...editor.lists.map(({ id, name }) => [String(id), name] as const),
            ]}
            sx={{ width: 190 }}
          />
          <PlainSelect
            label="As"
            value={String(asId ?? "")}
            onChange={(chosen) => set("as", chosen)}
            options={
              editor.people.length === 0
                ? [["", "Nobody yet"]]
                : editor.people.map(
                    ({ id, name, company, lacks }) =>
                      [
                        String(id),
                        `${name}${company ? `, ${company}` : ""}${lacks > 0 ? ` · ${count(lacks, "thing")} missing` : ""}`,
                      ] as const,
                  )
            }
            sx={{ width: 230 }}
          />
          <Button
            size="small"
            variant={isNarrow ? "contained" : "outlined"}
            aria-pressed={isNarrow}
            onClick={() => setNarrow(true)}
          >
            Telephone
          </Button>
          <Button
            size="small"
            variant={isNarrow ? "outlined" : "contained"}
            aria-pressed={!isNarrow}
            onClick={() => setNarrow(false)}
          >
            Wide
          </Button>
          {shown && (
            <Button size="small" component="a" href={shown.link} target="_blank" rel="noreferrer">
              Open it
            </Button>
          )}
        </Box>
        <Lacking editor={editor} seen={shown} />
        {shown && (
          <Box
            sx={{
              border: "1px solid",
              borderColor: "divider",
              borderRadius: 1.5,
              overflow: "hidden",
              width: isNarrow ? 390 : 1,
              maxWidth: 1,
              mx: "auto",
            }}
          >
            <PersonalView page={shown.page} tongue={shown.tongue} base="" isPreview isNarrow={isNarrow} />
          </Box>
        )}
      </Box>
      {blocker.state === "blocked" && (
        <Confirm
          title="Leave without saving?"
          keep="Stay"
          act="Leave it as it was"
          isDanger
          onClose={() => blocker.reset()}
          onAct={() => blocker.proceed()}
        >
          What you changed on this page would be lost.
        </Confirm>
      )}
    </Box>
  );
}

/** What is missing, for the person in sight and for the list. */
function Lacking({ editor, seen }: { editor: PageEditor; seen: Seen | null }) {
  const theirs = seen?.page.lacks ?? [];
  if (!seen)
    return (
      <Typography color="textSecondary" sx={{ mb: 1.5 }}>
        Put somebody on a list, to see the page with their name.
      </Typography>
    );
  return (
    <Box sx={{ mb: 1.5, display: "grid", gap: 0.25, fontSize: 14 }}>
      {theirs.length === 0 && (
        <Typography color="kelp.text">Nothing is missing for {seen.page.visitor.name || "them"}.</Typography>
      )}
      {theirs.map((lack) => (
        <Typography key={`${lack.blockId} ${lack.what}`} sx={{ color: "clay.main" }}>
          {lackWords(lack)}.
        </Typography>
      ))}
      {editor.lacks.length > 0 && (
        <Box component="details" sx={{ color: "text.secondary", "& summary": { cursor: "pointer" } }}>
          <summary>
            What {editor.looked} of the list lack (
            {editor.lacks.length === 1 ? "one thing" : `${editor.lacks.length} things`})
          </summary>
          {editor.lacks.map((lack) => (
            <Typography key={`${lack.blockId} ${lack.what}`} color="textSecondary">
              {count(lack.people, "person", "people")} of {editor.looked}. {lackWords(lack)}.
            </Typography>
          ))}
        </Box>
      )}
    </Box>
  );
}

/** The languages that the page is written in; the first is everybody's whose own is none of them. */
function Languages({
  definition: { languages },
  language,
  onLanguage,
  onChange,
}: {
  definition: Definition;
  language: PublicLanguage;
  onLanguage: (language: PublicLanguage) => void;
  onChange: (languages: PublicLanguage[]) => void;
}) {
  const others = PUBLIC_LANGUAGES.filter((each) => !languages.includes(each));
  return (
    <Box
      sx={{ display: "flex", gap: 0.75, flexWrap: "wrap", alignItems: "center", mb: 1.5 }}
      role="group"
      aria-label="Language of the words"
    >
      {languages.map((each) => (
        <Button
          key={each}
          size="small"
          variant={each === language ? "contained" : "outlined"}
          aria-pressed={each === language}
          onClick={() => onLanguage(each)}
          lang={each}
        >
          {ownNameOf(each)}
        </Button>
      ))}
      {languages.length > 1 && (
        <Button
          size="small"
          color="error"
          onClick={() => onChange(languages.filter((each) => each !== language))}
        >
          Without {ownNameOf(language)}
        </Button>
      )}
      <PlainSelect
        aria-label="Another language"
        value=""
        onChange={(chosen) => chosen !== "" && onChange([...languages, chosen as PublicLanguage])}
        options={[["", "Another language …"], ...others.map((each) => [each, ownNameOf(each)] as const)]}
        sx={{ width: 180 }}
      />
    </Box>
  );
}
