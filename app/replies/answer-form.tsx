/** The answer to a reply: written below it, with what one press puts into it, now or later, sent once however often it is pressed. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Suspense, useEffect, useImperativeHandle, useRef, useState } from "react";
import type { ReadyPiece } from "../../server/sequences/pieces";
import type { FieldErrors } from "../components/field";
import { FileButton } from "../components/file-button";
import { KeyButton } from "../components/key";
import { lazily } from "../components/lazily";
import { DayField, TimeField } from "../components/moment-fields";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { ActionForm, useAction } from "../components/use-action";
import { keepFile } from "../sequences/text/keep-file";
import { useKeptDraft } from "./kept-draft";

const PieceMenu = lazily(() => import("./piece-menu"), "PieceMenu");

/** What the page's action says: an answer's key once it is queued, words on what was done, or what is wrong. */
export interface Answered {
  answered?: string;
  words?: string;
  /** A person who was added. */
  addedId?: number;
}

/** What keys do to the answer from outside it. */
export interface AnswerHandle {
  focus: () => void;
  insert: (text: string) => void;
  suggest: () => void;
}

export function AnswerForm(props: {
  replyId: number;
  mailbox: string;
  name: string;
  answerTo: string;
  /** They answered from another address than theirs. */
  isElsewhere: boolean;
  /** What was typed here before. */
  draft: string;
  pieces: ReadyPiece[];
  suggested: string;
  nudge: string;
  link: string;
  times: string;
  handle: React.RefObject<AnswerHandle | null>;
}) {
  const { replyId, suggested, link, times, pieces } = props;
  const { text, key, change: setText, begin } = useKeptDraft(replyId, props.draft);
  const [when, setWhen] = useState<When>("now");
  const [nudgeAfter, setNudgeAfter] = useState(NO_NUDGE);
  const [asLinks, setAsLinks] = useState(false);
  const [files, setFiles] = useState<{ id: number; name: string }[]>([]);
  const [problem, setProblem] = useState("");
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const field = useRef<HTMLTextAreaElement>(null);
  const act = useAction<Answered>({}, () => {
    begin();
    setFiles([]);
    setWhen("now");
    setNudgeAfter(NO_NUDGE);
  });
  const { errors } = act;
  useEffect(() => {
    if (Object.keys(errors).length > 0) field.current?.focus();
  }, [errors]);

  /** Puts a text where the cursor is, and keeps writing behind it. */
  function insert(added: string): void {
    const at = field.current?.selectionStart ?? text.length;
    const before = text.slice(0, at);
    const gap =
      before === "" || /\n\s*$/.test(before)
        ? ""
        : added.includes("\n")
          ? "\n\n"
          : /\s$/.test(before)
            ? ""
            : " ";
    setText(`${before}${gap}${added}${text.slice(at)}`);
    field.current?.focus();
  }
  const suggest = () => {
    if (text.trim() === "") setText(suggested);
    else insert(suggested);
    field.current?.focus();
  };
  useImperativeHandle(props.handle, () => ({ focus: () => field.current?.focus(), insert, suggest }));

  async function attach(file: File): Promise<void> {
    const kept = await keepFile(file, "attachment");
    if (kept.ok) setFiles((before) => [...before, kept.value]);
    setProblem(kept.ok ? "" : Object.values(kept.errors).join(" "));
  }

  const tool = { size: "small", type: "button" } as const;
  return (
    <ActionForm
      of={act}
      sends={{
        ...{ intent: "answer", replyId, key, attachments: JSON.stringify(files.map(({ id }) => id)) },
        linksFiles: asLinks ? "1" : "",
      }}
      sx={{ mt: 2, display: "grid", gap: 1.25 }}
    >
      <Box sx={{ display: "flex", gap: 0.75, flexWrap: "wrap" }}>
        <KeyButton {...tool} onClick={() => insert(times || link)} keys="T">
          Offer times
        </KeyButton>
        <KeyButton {...tool} onClick={() => insert(link)} keys="B">
          Booking link
        </KeyButton>
        <KeyButton {...tool} onClick={suggest} keys="D">
          Suggested answer
        </KeyButton>
        {pieces.length > 0 && (
          <Button {...tool} onClick={({ currentTarget }) => setMenu(currentTarget)} aria-haspopup="menu">
            Reusable piece
          </Button>
        )}
        <FileButton label="Attach a file" button={tool} onFile={(file) => void attach(file)} />
      </Box>
      {menu && (
        <Suspense>
          <PieceMenu
            anchor={menu}
            pieces={pieces}
            onClose={() => setMenu(null)}
            onChoose={({ body }) => insert(body)}
          />
        </Suspense>
      )}
      <PlainTextField
        name="text"
        label={`Answer ${props.name.split(" ")[0]}`}
        multiline
        minRows={3}
        maxRows={14}
        value={text}
        onChange={(event) => setText(event.target.value)}
        inputRef={field}
        onKeyDown={(event) => {
          const isSent = event.key === "Enter" && (event.ctrlKey || event.metaKey);
          if (isSent) field.current?.form?.requestSubmit();
          // The keys are the desk's again, without waiting for the server.
          if (isSent || event.key === "Escape") field.current?.blur();
        }}
        errors={errors}
        helperText={`Goes from ${props.mailbox}${props.isElsewhere ? ` to ${props.answerTo}, where this came from` : ""}, in the same thread, with your signature.`}
        sx={{ "& textarea": { typography: "letter" } }}
      />
      {files.map(({ id, name }) => (
        <Typography key={id} variant="body2">
          {name}{" "}
          <Button
            size="small"
            type="button"
            onClick={() => setFiles((before) => before.filter((each) => each.id !== id))}
          >
            Take off
          </Button>
        </Typography>
      ))}
      {files.length > 0 && (
        <PlainSelect
          aria-label="How the files go"
          value={asLinks ? "links" : ""}
          onChange={(way) => setAsLinks(way === "links")}
          options={[
            ["", "attached"],
            ["links", "as links to look at"],
          ]}
          sx={{ width: 200 }}
        />
      )}
      {problem && <Alert severity="error">{problem}</Alert>}
      {nudgeAfter !== NO_NUDGE && (
        <PlainTextField
          name="nudge"
          label="The nudge"
          multiline
          defaultValue={props.nudge}
          errors={errors}
          sx={{ "& textarea": { typography: "letter" } }}
        />
      )}
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "center" }}>
        <KeyButton type="submit" variant="contained" disabled={act.isBusy} keys="Ctrl Enter">
          {when === "now" ? "Send the answer" : "Send it then"}
        </KeyButton>
        <WhenItGoes when={when} onWhen={setWhen} errors={errors} />
        <PlainSelect
          name="nudgeAfter"
          aria-label="If nothing comes back"
          value={nudgeAfter}
          onChange={setNudgeAfter}
          options={NUDGES}
          sx={{ width: 240 }}
        />
      </Box>
    </ActionForm>
  );
}

const NO_NUDGE = "0";
const NUDGES = [
  [NO_NUDGE, "no nudge behind it"],
  ...[2, 3, 5, 7, 10].map((days) => [String(days), `nudge after ${days} working days`] as const),
] as const;

type When = "now" | "morning" | "at";

function WhenItGoes(props: { when: When; onWhen: (when: When) => void; errors: FieldErrors }) {
  const { when, onWhen, errors } = props;
  return (
    <>
      <PlainSelect
        name="when"
        aria-label="When it goes"
        value={when}
        onChange={(chosen) => onWhen(chosen as When)}
        options={[
          ["now", "now"],
          ["morning", "on their next morning"],
          ["at", "on a day of mine"],
        ]}
        sx={{ width: 200 }}
      />
      {when === "at" && (
        <>
          <DayField name="date" errors={errors} aria-label="Day" sx={{ width: 165 }} />
          <TimeField name="time" defaultValue="09:00" errors={errors} aria-label="Time" sx={{ width: 120 }} />
        </>
      )}
    </>
  );
}
