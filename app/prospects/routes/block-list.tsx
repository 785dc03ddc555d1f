import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Paper from "@mui/material/Paper";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { webApp } from "../../../server/app";
import { type Outcome, whenDone } from "../../../server/errors";
import {
  applyBlocks,
  BLOCKED_PAGE,
  type Blocked,
  type BlockPreview,
  listBlocked,
  previewBlocks,
  textOfFile,
  unblock,
} from "../../../server/prospects/block-list/block-list";
import { userContext } from "../../accounts/session";
import { FormDialog } from "../../components/dialogs";
import { Field } from "../../components/field";
import { FileButton } from "../../components/file-button";
import { MarginNote, Page } from "../../components/page";
import { Pager } from "../../components/pager";
import { Pill } from "../../components/pill";
import { Row } from "../../components/row";
import { SearchField } from "../../components/search-field";
import { useAction } from "../../components/use-action";
import { count, dayTime } from "../../components/words";
import { readPage, unknownIntent } from "../../desk/read-form";
import { UndoLine } from "../../undo/undo-line";
import type { Route } from "./+types/block-list";

export function loader({ request, context }: Route.LoaderArgs) {
  const url = new URL(request.url).searchParams;
  const q = (url.get("q") ?? "").slice(0, 100);
  const page = readPage(url);
  const found = listBlocked(webApp(), q, page);
  return {
    q,
    page,
    ...found,
    pageSize: BLOCKED_PAGE,
    zone: context.get(userContext).zone,
  };
}

interface Answer {
  preview?: BlockPreview;
  applied?: BlockPreview & { undoId: number };
  text?: string;
  undoId?: number | null;
}

export async function action({ request, context }: Route.ActionArgs): Promise<Outcome<Answer>> {
  const app = webApp();
  const userId = context.get(userContext).id;
  const form = await request.formData().catch(() => unknownIntent("broken form"));
  const file = form.get("file");
  if (file instanceof File) {
    const text = textOfFile(new Uint8Array(await file.arrayBuffer()));
    return whenDone(text, (text) => ({ text }));
  }
  const input = Object.fromEntries(form);
  if (input.intent === "remove") {
    return whenDone(unblock(app, userId, input), (undoId) => ({ undoId }));
  }
  if (input.intent !== "apply" && input.intent !== "preview") return unknownIntent(input.intent);
  if (input.intent === "preview") {
    return whenDone(previewBlocks(app, input), (preview) => ({ preview }));
  }
  return whenDone(applyBlocks(app, userId, input), (applied) => ({ applied }));
}

const REASONS = {
  opted_out: ["clay", "Opted out"],
  bounced: ["ochre", "Bounced"],
  added_by_rep: ["tile", "Added"],
} as const;

export default function BlockListPage({ loaderData }: Route.ComponentProps) {
  const { rows, total, pageSize, q, page, zone } = loaderData;
  const [done, setDone] = useState<{ words: string | null; ids: number[] }>({ words: null, ids: [] });
  const [removing, setRemoving] = useState<Blocked | null>(null);
  const adding = useAdding(({ add, remove, undoId }) =>
    setDone({
      words: `${count(add.length, "entry", "entries")} added${remove.length > 0 ? `, ${remove.length} taken off` : ""}.`,
      ids: [undoId],
    }),
  );
  return (
    <Page
      heading={
        total === 0 && q === ""
          ? "Nobody is on the block list"
          : `${count(total, "entry", "entries")} ${q === "" ? "that nothing is ever sent to" : `match “${q}”`}`
      }
      sub="Opt-outs and bounced addresses land here by themselves."
      margin={
        <>
          {adding.preview ? (
            <WhatChanges preview={adding.preview} />
          ) : (
            <MarginNote title="What a block does">
              <Typography>
                Nobody blocked can be started on a sequence, and whatever was planned for them stops. A domain
                blocks everybody there. It is looked at again right before each email leaves.
              </Typography>
            </MarginNote>
          )}
          <MarginNote title="Taking somebody off">
            <Typography>
              Whoever opted out comes off only if you type why. The reason is kept with your name.
            </Typography>
          </MarginNote>
        </>
      }
    >
      <AddBlocks of={adding} />
      <Search q={q} />
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }} aria-label="Block list">
        {rows.map((row) => (
          <BlockedRow key={row.id} row={row} zone={zone} onTakeOff={() => setRemoving(row)} />
        ))}
      </Box>
      <Pager page={page} pageSize={pageSize} total={total} />
      {removing && (
        <TakeOff
          entry={removing}
          onClose={(undoId) => {
            setRemoving(null);
            if (undoId !== undefined) setDone({ words: `${removing.value} was taken off.`, ids: [undoId] });
          }}
        />
      )}
      <UndoLine words={done.words} ids={done.ids} />
    </Page>
  );
}

/** What is typed or read from a file, and what would become of it. */
function useAdding(onApplied: (applied: NonNullable<Answer["applied"]>) => void) {
  const [form, setForm] = useState({ text: "", note: "", mode: "append" });
  const change = (part: Partial<typeof form>) => setForm((before) => ({ ...before, ...part }));
  const upload = useAction<Answer>({ as: "file" }, ({ text }) => change({ text: text ?? "" }));
  const add = useAction<Answer>({}, ({ applied }) => {
    if (!applied) return;
    change({ text: "" });
    onApplied(applied);
  });
  return {
    ...form,
    change,
    preview: add.value?.preview,
    isBusy: add.isBusy,
    problem: add.errors.text ?? add.errors.form ?? upload.errors.text,
    send: (intent: "preview" | "apply") => add.press({ intent, ...form }),
    read: (file: File) => {
      const sent = new FormData();
      sent.set("file", file);
      upload.press(sent);
    },
  };
}

function AddBlocks({ of }: { of: ReturnType<typeof useAdding> }) {
  const { text, note, mode, preview, problem, isBusy, change, send } = of;
  return (
    <Paper variant="outlined" sx={{ p: 2, mb: 3 }}>
      <TextField
        multiline
        // As high before a file has come as after it: what moved under the pointer would take a press away.
        rows={5}
        label="Addresses and domains, one in each line"
        placeholder={"somebody@museum.example\nmuseum.example"}
        value={text}
        onChange={({ target }) => change({ text: target.value })}
        error={!!problem}
        helperText={problem}
      />
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", mt: 1.5, flexWrap: "wrap" }}>
        <TextField
          label="Why, for your teammates"
          value={note}
          onChange={({ target }) => change({ note: target.value })}
          sx={{ width: 230 }}
        />
        <OldList mode={mode} onMode={(chosen) => change({ mode: chosen })} />
        <Box sx={{ flex: 1 }} />
        <FileButton
          label="From a CSV file"
          name="CSV file of addresses and domains"
          accept=".csv,.txt,text/csv"
          onFile={of.read}
        />
        <Button disabled={text.trim() === "" || isBusy} onClick={() => send("preview")}>
          See what changes
        </Button>
        {preview && (
          <Button variant="contained" disabled={isBusy} onClick={() => send("apply")}>
            {mode === "replace"
              ? `Replace: add ${preview.add.length}, take off ${preview.remove.length}`
              : `Block ${count(preview.add.length, "entry", "entries")}`}
          </Button>
        )}
      </Box>
    </Paper>
  );
}

function Search({ q }: { q: string }) {
  const [, setParams] = useSearchParams();
  return (
    <SearchField
      value={q}
      label="Search the block list"
      placeholder="Find an address or domain"
      onSearch={(wanted) => setParams(wanted === "" ? {} : { q: wanted }, { replace: true })}
      sx={{ maxWidth: 320, mb: 1.5 }}
    />
  );
}

function BlockedRow({ row, zone, onTakeOff }: { row: Blocked; zone: string; onTakeOff: () => void }) {
  const [tone, word] = REASONS[row.reason];
  return (
    <Row
      columns={{ xs: "auto minmax(0,1fr) 90px", sm: "minmax(0,1.3fr) 100px minmax(0,1.4fr) 90px" }}
      component="li"
      data-row
      sx={{ alignItems: "center" }}
    >
      <Typography noWrap sx={{ fontWeight: 600, gridColumn: { xs: "1 / -1", sm: "auto" } }}>
        {row.prospectId ? <Link to={`/prospects/${row.prospectId}`}>{row.value}</Link> : row.value}
        {row.kind === "domain" && " (everybody there)"}
      </Typography>
      <Box>
        <Pill tone={tone}>{word}</Pill>
      </Box>
      <Typography noWrap variant="body2" color="textSecondary">
        {dayTime(row.at, zone)}
        {row.by && `, ${row.by}`}
        {row.note && `: ${row.note}`}
      </Typography>
      <Button size="small" onClick={onTakeOff} aria-label={`Take ${row.value} off`}>
        Take off
      </Button>
    </Row>
  );
}

function TakeOff({ entry, onClose }: { entry: Blocked; onClose: (undoId?: number) => void }) {
  return (
    <FormDialog<Answer>
      title={`Take ${entry.value} off?`}
      keep="Leave it"
      act="Take it off"
      intent="remove"
      onClose={() => onClose()}
      onDone={({ undoId }) => onClose(undoId ?? undefined)}
    >
      {(errors) => (
        <>
          <Typography>
            {entry.reason === "opted_out"
              ? "They asked not to be written to. After this, they can be started on a sequence again."
              : entry.reason === "bounced"
                ? "Mail to it came back. After this, it can be written to again."
                : "It can then be written to again."}
          </Typography>
          <input type="hidden" name="id" value={entry.id} />
          <Field
            name="why"
            label={entry.reason === "opted_out" ? "Why they may be written to again" : "Why (optional)"}
            multiline
            autoFocus
            errors={errors}
          />
        </>
      )}
    </FormDialog>
  );
}

function WhatChanges({ preview }: { preview: BlockPreview }) {
  return (
    <MarginNote title="What this will change">
      <Typography component="div">
        <Box component="ul" sx={{ pl: 2.25, m: 0, display: "grid", gap: 0.75 }}>
          <li>{count(preview.add.length, "entry comes", "entries come")} onto the list</li>
          {preview.same > 0 && <li>{preview.same} on the list already</li>}
          {preview.remove.length > 0 && (
            <li>{count(preview.remove.length, "entry comes", "entries come")} off it</li>
          )}
          {preview.stay > 0 && <li>{preview.stay} opt-outs and bounces stay, whatever the new list says</li>}
          {preview.stops > 0 && <li>Everything planned stops for {count(preview.stops, "prospect")}</li>}
          {preview.broken.length > 0 && (
            <li>
              {count(preview.broken.length, "line")} neither address nor domain: line{" "}
              {preview.broken[0]?.line}, “{preview.broken[0]?.text}”
            </li>
          )}
        </Box>
      </Typography>
    </MarginNote>
  );
}

function OldList({ mode, onMode }: { mode: string; onMode: (mode: string) => void }) {
  return (
    <RadioGroup
      row
      value={mode}
      onChange={(event) => onMode(event.target.value)}
      aria-label="What happens to the old list"
    >
      <FormControlLabel value="append" control={<Radio size="small" />} label="Add to the list" />
      <FormControlLabel value="replace" control={<Radio size="small" />} label="Replace it" />
    </RadioGroup>
  );
}
