/** From people who were chosen to what they get: a new sequence, or one that there is, with what that does said before. */
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { LEFT_OUT, type Standing } from "../../core/sequence/standing";
import type { BulkReport } from "../../server/prospects/people/bulk-edit";
import type { AddPreview } from "../../server/sequences/add-people";
import { Confirm } from "../components/dialogs";
import { Refusal } from "../components/refusal";
import { useAction, useQuestion } from "../components/use-action";
import { count } from "../components/words";
import { WORDS } from "../sequences/start/standing-words";

/** What came of something that was done with many. */
export interface BulkAnswer {
  report?: BulkReport;
  undone?: number;
}

type Run = (action: Record<string, unknown>) => Record<string, string>;

/** They become a list, and the sequence is written for it. */
export function NewSequenceFor({ people, run, onClose }: { people: string; run: Run; onClose: () => void }) {
  const [name, setName] = useState("");
  const navigate = useNavigate();
  const { press, isBusy, errors } = useAction<BulkAnswer>({ to: "/prospects" }, ({ report }) => {
    if (report?.listId !== undefined) void navigate(`/sequences/new?list=${report.listId}`);
  });
  const act = () => press({ intent: "bulk", ...run({ kind: "add_to_list", name }) });
  return (
    <Confirm
      title={`A new sequence for ${people}`}
      keep="Not now"
      act="Go on"
      isWaiting={isBusy || name.trim() === ""}
      onClose={onClose}
      onAct={act}
    >
      <Refusal errors={errors} />
      <Typography sx={{ mb: 2 }}>They are put on a list of their own, to which it writes.</Typography>
      <TextField
        autoFocus
        label="Name of list and sequence"
        value={name}
        onChange={({ target }) => setName(target.value)}
      />
    </Confirm>
  );
}

/** Who goes, who waits and for what, who is left out and why. */
export function AddTo(props: { run: () => Record<string, string>; onClose: () => void; onAct: () => void }) {
  const { ask, value: preview, errors } = useQuestion<AddPreview>({ to: "/prospects" });
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is asked once, when it opens.
  useEffect(() => ask({ intent: "preview-add", ...props.run() }), []);
  if (!preview)
    return (
      <Confirm
        title="Looking at them …"
        keep="Not now"
        act="Start"
        isWaiting
        onClose={props.onClose}
        onAct={() => {}}
      >
        <Refusal errors={errors} />
      </Confirm>
    );
  const { sequenceName, state, standings, colleagues } = preview;
  const starting = standings.reduce(
    (sum, each) => (LEFT_OUT.includes(each.standing) ? sum : sum + each.count),
    0,
  );
  return (
    <Confirm
      title={`${count(starting, "person", "people")} ${state === "draft" ? "onto the list of" : "onto"} “${sequenceName}”`}
      keep="Not now"
      act={
        state === "draft"
          ? "Put them on its list"
          : starting === 0
            ? "Nobody starts"
            : `Start for ${starting}`
      }
      isWaiting={state !== "draft" && starting === 0}
      onClose={props.onClose}
      onAct={props.onAct}
    >
      {standings.map(({ standing, count: people }) => (
        <Typography key={standing} sx={{ mb: 0.5 }}>
          <strong>{people}</strong> {standingWords(standing, state)}
        </Typography>
      ))}
      {colleagues.map(({ name, count: people }) => (
        <Typography key={name} color="textSecondary">
          {people} of those who start {people === 1 ? "is" : "are"} {name}’s.
        </Typography>
      ))}
    </Confirm>
  );
}

function standingWords(standing: Standing, state: AddPreview["state"]): string {
  const { waits } = WORDS[standing];
  if (LEFT_OUT.includes(standing)) return `left out: they ${waits}`;
  if (standing !== "ready")
    return waits.startsWith("wait") ? `start and ${waits}` : `start and wait: they ${waits}`;
  return state === "draft" ? "are ready" : state === "paused" ? "start once it goes on" : "start now";
}
