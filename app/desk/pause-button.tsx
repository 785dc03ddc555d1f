/** Pauses something or lets it go on: first what that holds up or sets in motion, in numbers, and then the undo. */
import Button, { type ButtonProps } from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { PauseNumbers } from "../../server/desk/pause-numbers";
import { Confirm } from "../components/dialogs";
import { Refusal } from "../components/refusal";
import { useQuestion } from "../components/use-action";
import { count, dayTime } from "../components/words";
import { UndoLine } from "../undo/undo-line";

interface Paused {
  of: "sequence" | "mailbox" | "account" | "journey";
  ids: readonly number[];
  /** As the screen calls it: "Loan season", "3 people". */
  name: string;
  /** What the press makes of it. */
  becomes: "paused" | "running";
  zone: string;
}

/** `undoId`: by which the last press is undone, once there was one. */
export function PauseButton({
  undoId,
  label,
  button,
  onAct,
  ...what
}: Paused & { undoId: number | null; label: string; button?: ButtonProps; onAct: () => void }) {
  const [asking, setAsking] = useState(false);
  const [did, setDid] = useState("");
  return (
    <>
      <Button {...button} onClick={() => setAsking(true)}>
        {label}
      </Button>
      {asking && (
        <PauseDialog
          {...what}
          onClose={() => setAsking(false)}
          onAct={() => {
            setAsking(false);
            setDid(what.becomes === "paused" ? `${what.name}: paused.` : `${what.name}: goes on.`);
            onAct();
          }}
        />
      )}
      <UndoLine words={did || null} ids={undoId === null ? [] : [undoId]} />
    </>
  );
}

export function PauseDialog(props: Paused & { onClose: () => void; onAct: () => void }) {
  const { of, ids, name, becomes, zone, onClose, onAct } = props;
  const { ask, value, errors } = useQuestion<PauseNumbers>({ to: "/pausing", as: "json" });
  const list = ids.join();
  useEffect(() => ask({ of, ids: list.split(",").map(Number) }), [ask, of, list]);
  return (
    <Confirm
      title={becomes === "paused" ? `Pause ${name}?` : `Let ${name} go on?`}
      keep="Leave it as it is"
      act={becomes === "paused" ? "Pause" : "Go on"}
      isWaiting={!value}
      onClose={onClose}
      onAct={onAct}
    >
      <Refusal errors={errors} />
      {!value && Object.keys(errors).length === 0 && <Typography>Counting …</Typography>}
      {value && (becomes === "paused" ? <Holds {...value} /> : <GoesOn {...value} zone={zone} />)}
    </Confirm>
  );
}

function Holds({ people, emails, open }: PauseNumbers) {
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {count(people, "person is", "people are")} under way. Nothing goes to them until you let it go on;
        whoever replies still stops what they stop.
      </Typography>
      <Typography>
        {emails === 0
          ? "No email of theirs is planned. "
          : `${count(emails, "planned email")} ${emails === 1 ? "waits" : "wait"}. `}
        {open === 0
          ? "Nothing of it is on Today."
          : `${count(open, "touch leaves", "touches leave")} Today and ${open === 1 ? "keeps its" : "keep their"} time.`}
      </Typography>
    </>
  );
}

function GoesOn({ people, emails, open, pausedAt, zone }: PauseNumbers & { zone: string }) {
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {pausedAt !== null && `Paused since ${dayTime(pausedAt, zone)}. `}
        {count(people, "person goes", "people go")} on where they stood, with the time that was left.
      </Typography>
      <Typography>
        {emails === 0
          ? "No email of theirs is due today. "
          : `${count(emails, "email is", "emails are")} due by this evening and ${emails === 1 ? "leaves" : "leave"} as the mailboxes' limits allow. `}
        {open > 0 && `${count(open, "touch comes", "touches come")} back to Today.`}
      </Typography>
    </>
  );
}
