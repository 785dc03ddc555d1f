/** The labels that replies get, and what follows from each. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { SETTABLE_STAGES, STAGE_NAMES } from "../../core/prospects/stages";
import { labelForm, NOTHING } from "../../core/replies/label-effects";
import type { LabelRow } from "../../server/replies/labels";
import { Key } from "../components/key";
import { Refusal } from "../components/refusal";
import { ChoiceInput, TextInput, TickInput } from "../components/schema-fields";
import { useSchemaForm } from "../components/schema-form";
import { useAction } from "../components/use-action";
import { Part, type Said, two } from "./parts";

const said = ({ effects, isPositive }: LabelRow): string =>
  [
    isPositive ? "wants to talk" : "",
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
              {said(label)}
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
  const id = label?.id ?? "";
  const form = useSchemaForm(
    labelForm,
    {
      name: label?.name ?? "",
      effects: label?.effects ?? NOTHING,
      isPositive: label?.isPositive ?? false,
    },
    part.errors,
    (sent) => part.press({ intent: "label-save", id, form: JSON.stringify(sent) }),
  );
  const isOptOut = label?.key === "opt_out";
  const fixed = { disabled: isOptOut };
  return (
    <Box sx={{ mt: 1.5 }}>
      <Part
        title={label ? label.name : "A new label"}
        intent="label-save"
        button="Save the label"
        of={part}
        onSubmit={form.onSubmit}
      >
        {!label?.key && <TextInput in={form} name="name" label="Its name" />}
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2 }}>
          <TickInput in={form} name="effects.stops" label="Ends what is planned for them" {...fixed} />
          <TickInput
            in={form}
            name="effects.resumes"
            label="Lets their sequence go on, after a day they name"
            {...fixed}
          />
          <TickInput in={form} name="effects.blocks" label="Never write to them again" {...fixed} />
          <TickInput in={form} name="isPositive" label="Counts as “wants to talk” in results" />
        </Box>
        {isOptOut && (
          <Typography variant="body2" color="textSecondary">
            An opt-out always stops and blocks.
          </Typography>
        )}
        <Box sx={two}>
          <ChoiceInput
            in={form}
            name="effects.stage"
            label="Moves them to"
            {...EMPTY_TOO}
            options={[
              ["", "They stay where they are"],
              ...SETTABLE_STAGES.map((stage) => [stage, STAGE_NAMES[stage]] as const),
            ]}
          />
          <ChoiceInput
            in={form}
            name="effects.colleagues"
            label="The other people of their company"
            options={[
              ["hold", "wait until somebody lets them go on"],
              ["release", "go on"],
              ["leave", "stay as they are"],
            ]}
          />
          <TextInput in={form} name="effects.task" label="Reminds you of" helperText="Empty for nothing." />
          <ChoiceInput
            in={form}
            name="effects.listId"
            label="Puts them on the list"
            {...EMPTY_TOO}
            options={[["", "On none"], ...lists.map(({ id, name }) => [id, name] as const)]}
          />
        </Box>
      </Part>
      {label && label.key === null && (
        <Button size="small" sx={{ mt: 3 }} onClick={() => remove.press({ intent: "label-remove", id })}>
          Take this label away
        </Button>
      )}
      <Refusal errors={remove.errors} />
    </Box>
  );
}

const EMPTY_TOO = { slotProps: { select: { displayEmpty: true }, inputLabel: { shrink: true } } };
