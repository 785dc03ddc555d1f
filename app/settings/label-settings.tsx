/** The labels that replies get, what follows from each, and what the sorting learns from corrections. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { SETTABLE_STAGES, STAGE_NAMES } from "../../core/prospects/stages";
import type { LabelEffects } from "../../core/replies/label-effects";
import type { LabelRow } from "../../server/replies/labels";
import type { Learning } from "../../server/replies/learn";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { Key } from "../components/key";
import { Refusal } from "../components/refusal";
import { Tick } from "../components/tick";
import { useAction } from "../components/use-action";
import { count } from "../components/words";
import { JobProgress } from "../prospects/job-progress";
import { Part, type Said, two } from "./parts";

const NEW: LabelEffects = {
  stage: null,
  stops: true,
  resumes: false,
  colleagues: "leave",
  task: "",
  listId: null,
  blocks: false,
};

const said = (effects: LabelEffects): string =>
  [
    effects.blocks
      ? "stops and blocks"
      : effects.stops
        ? "stops"
        : effects.resumes
          ? "lets their sequence go on"
          : "",
    effects.stage ? `moves to ${STAGE_NAMES[effects.stage]}` : "",
    effects.colleagues === "hold"
      ? "holds colleagues"
      : effects.colleagues === "release"
        ? "releases colleagues"
        : "",
    effects.task ? `reminds you: ${effects.task}` : "",
    effects.listId !== null ? "adds to a list" : "",
  ]
    .filter(Boolean)
    .join(", ") || "changes nothing";

export function LabelSettings({
  labels,
  lists,
  isManager,
}: {
  labels: LabelRow[];
  lists: { id: number; name: string }[];
  isManager: boolean;
}) {
  const [open, setOpen] = useState<number | "new" | null>(null);
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Labels, and what follows
      </Typography>
      {labels.map((label, index) => (
        <Box key={label.id} sx={{ borderTop: "1px solid", borderColor: "divider", py: 1.25 }}>
          <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
            <Key>{index + 1}</Key>
            <Typography sx={{ fontWeight: 600, minWidth: 120 }}>{label.name}</Typography>
            <Typography variant="body2" color="textSecondary" sx={{ flex: 1 }}>
              {said(label.effects)}
            </Typography>
            {isManager && (
              <Button size="small" onClick={() => setOpen(open === label.id ? null : label.id)}>
                {open === label.id ? "Close" : "Change"}
              </Button>
            )}
          </Box>
          {open === label.id && <LabelForm label={label} lists={lists} />}
        </Box>
      ))}
      {isManager && (
        <Box sx={{ borderTop: "1px solid", borderColor: "divider", pt: 1.5 }}>
          {open === "new" ? (
            <LabelForm label={null} lists={lists} />
          ) : (
            <Button onClick={() => setOpen("new")}>Add a label of your own</Button>
          )}
        </Box>
      )}
    </Box>
  );
}

function LabelForm({ label, lists }: { label: LabelRow | null; lists: { id: number; name: string }[] }) {
  const part = useAction<Said>();
  const remove = useAction<Said>();
  const { errors } = part;
  const [effects, setEffects] = useState(label?.effects ?? NEW);
  const set = (change: Partial<LabelEffects>) => setEffects({ ...effects, ...change });
  const isOptOut = label?.key === "opt_out";
  const box = (name: "stops" | "resumes" | "blocks", words: string) => (
    <Tick
      label={words}
      checked={effects[name]}
      disabled={isOptOut}
      onChange={(isChecked) => set({ [name]: isChecked })}
    />
  );
  return (
    <Box sx={{ mt: 1.5 }}>
      <Part title={label ? label.name : "A new label"} intent="label-save" button="Save the label" of={part}>
        <input type="hidden" name="id" value={label?.id ?? ""} />
        <input type="hidden" name="effects" value={JSON.stringify(effects)} />
        {label?.key ? (
          <input type="hidden" name="name" value={label.name} />
        ) : (
          <Field errors={errors} name="name" label="Its name" defaultValue={label?.name ?? ""} />
        )}
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2 }}>
          {box("stops", "Ends what is planned for them")}
          {box("resumes", "Lets their sequence go on, after a day they name")}
          {box("blocks", "Never write to them again")}
        </Box>
        {isOptOut && (
          <Typography variant="body2" color="textSecondary">
            An opt-out always stops and blocks.
          </Typography>
        )}
        <Box sx={two}>
          <Choice
            name="stage"
            errors={errors}
            label="Moves them to"
            value={effects.stage ?? ""}
            onChange={(chosen) => set({ stage: (chosen || null) as LabelEffects["stage"] })}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            options={[
              ["", "They stay where they are"],
              ...SETTABLE_STAGES.map((stage) => [stage, STAGE_NAMES[stage]] as const),
            ]}
          />
          <Choice
            name="colleagues"
            errors={errors}
            label="The other people of their company"
            value={effects.colleagues}
            onChange={(chosen) => set({ colleagues: chosen as LabelEffects["colleagues"] })}
            options={[
              ["hold", "wait until somebody lets them go on"],
              ["release", "go on"],
              ["leave", "stay as they are"],
            ]}
          />
          <Field
            name="task"
            errors={errors}
            label="Reminds you of"
            value={effects.task}
            onChange={({ target }) => set({ task: target.value })}
            helperText="Empty for nothing."
          />
          <Choice
            name="list"
            errors={errors}
            label="Puts them on the list"
            value={effects.listId === null ? "" : String(effects.listId)}
            onChange={(chosen) => set({ listId: chosen === "" ? null : Number(chosen) })}
            slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            options={[["", "On none"], ...lists.map(({ id, name }) => [String(id), name] as const)]}
          />
        </Box>
      </Part>
      {label && label.key === null && (
        <Button
          size="small"
          sx={{ mt: 3 }}
          onClick={() => remove.press({ intent: "label-remove", id: String(label.id) })}
        >
          Take this label away
        </Button>
      )}
      <Refusal errors={remove.errors} />
    </Box>
  );
}

/** What the sorting has to learn from, and what it would read otherwise afterwards. */
export function LearningSettings({
  learning,
  names,
  isManager,
}: {
  learning: Learning;
  names: Record<string, string>;
  isManager: boolean;
}) {
  const ask = useAction<Said>();
  const { corrections, labelled, proposed, inUse, job } = learning;
  const nameOf = (code: string) => names[code] ?? code;
  const send = (intent: string) => ask.press({ intent, id: String(proposed?.id ?? "") });
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Learn from your corrections
      </Typography>
      <Typography>
        {labelled === 0
          ? "Nobody has labelled a reply yet. What you press on Replies is what it learns from."
          : `${count(labelled, "reply was", "replies were")} labelled by hand, ${corrections} of them otherwise than they had been read.`}
        {inUse
          ? ` In use is what was learned from ${count(inUse.corrections, "label")}.`
          : " In use is what ships with the program."}
      </Typography>
      <Box sx={{ mt: 1.5, maxWidth: 760 }}>
        <JobProgress job={job} doing="Learning" unit="parts" onlyWhileRunning />
      </Box>
      {proposed && (
        <Box sx={{ mt: 1.5 }}>
          <Typography sx={{ fontWeight: 600 }}>
            {proposed.changes.length === 0
              ? "It would read every reply of the last months as before."
              : `It would read ${count(proposed.changes.length, "reply", "replies")} otherwise:`}
          </Typography>
          {proposed.changes.slice(0, 12).map((change) => (
            <Typography key={change.replyId} variant="body2" sx={{ mt: 0.5 }}>
              <strong>{change.name}</strong>: {nameOf(change.before)} → {nameOf(change.after)}
              {change.label ? ` (you said ${nameOf(change.label)})` : ""} — “{change.words}”
            </Typography>
          ))}
        </Box>
      )}
      {isManager && (
        <Box sx={{ display: "flex", gap: 1.5, mt: 1.5 }}>
          {proposed ? (
            <>
              <Button variant="contained" onClick={() => send("learn-use")}>
                Use it from now on
              </Button>
              <Button onClick={() => send("learn-drop")}>Leave it as it is</Button>
            </>
          ) : (
            <Button
              disabled={labelled === 0 || job?.state === "waiting" || job?.state === "working"}
              onClick={() => send("learn")}
            >
              See what it would learn
            </Button>
          )}
          {inUse && !proposed && <Button onClick={() => send("learn-forget")}>Go back to what ships</Button>}
        </Box>
      )}
      <Refusal errors={ask.errors} />
    </Box>
  );
}
