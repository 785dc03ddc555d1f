/** Groups of conditions over any field; the count is there at once. */

import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import IconButton from "@mui/material/IconButton";
import SvgIcon from "@mui/material/SvgIcon";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Condition, Filter } from "../../core/prospects/filter";
import { FILTER_FIELDS, kindOfField } from "../../core/prospects/filter-fields";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { useAction, useQuestion } from "../components/use-action";
import { count } from "../components/words";
import { choicesOf, type FilterChoices, nameOf, OPS } from "./filter-words";

const FRESH: Condition = { field: "title", op: "contains", value: "" };

export function FilterEditor(props: {
  filter: Filter | null;
  choices: FilterChoices;
  open: boolean;
  onClose: () => void;
  onApply: (filter: Filter | null) => void;
}) {
  const [filter, setFilter] = useState<Filter>(
    props.filter ?? { match: "all", groups: [{ match: "all", conditions: [FRESH] }] },
  );
  const [name, setName] = useState("");
  const { ask, value: total } = useQuestion<number>({ to: "/prospects" });
  const save = useAction({ to: "/prospects" });
  const text = JSON.stringify(filter);
  useEffect(() => {
    if (!props.open) return;
    const soon = setTimeout(() => ask({ intent: "count", f: text }), 200);
    return () => clearTimeout(soon);
  }, [text, props.open, ask]);

  const setGroup = (at: number, group: Group | null) =>
    setFilter({ ...filter, groups: replaced(filter.groups, at, group) });
  const fields = [
    ...Object.keys(FILTER_FIELDS),
    ...props.choices.customs.map((custom) => `custom:${custom}`),
  ];
  const keep = () => save.press({ intent: "save-filter", f: text, name });
  return (
    <Dialog open={props.open} onClose={props.onClose} maxWidth="md" fullWidth>
      <form
        style={{ display: "contents" }}
        onSubmit={(event) => {
          event.preventDefault();
          props.onApply(filter);
        }}
      >
        <DialogTitle>
          {total === null ? "Whom do you want to see?" : count(total, "person matches", "people match")}
        </DialogTitle>
        <DialogContent>
          {filter.groups
            .map((group, at) => ({ group, at }))
            .map(({ group, at }) => (
              <Box
                key={at}
                sx={{ border: "1px solid", borderColor: "divider", borderRadius: 1, p: 2, mb: 1.5 }}
                role="group"
                aria-label={`Group ${at + 1}`}
              >
                {at > 0 && (
                  <Match
                    label="Together with the group above"
                    value={filter.match}
                    onChange={(match) => setFilter({ ...filter, match })}
                    words={["both must match", "either may match"]}
                  />
                )}
                <Conditions
                  group={group}
                  fields={fields}
                  choices={props.choices}
                  onChange={(changed) => setGroup(at, changed)}
                />
              </Box>
            ))}
          <Button
            size="small"
            onClick={() =>
              setFilter({ ...filter, groups: [...filter.groups, { match: "all", conditions: [FRESH] }] })
            }
          >
            Add a group
          </Button>
          {save.value !== null && (
            <Alert severity="success" sx={{ mt: 2 }}>
              Saved. It stands under “Saved filters”.
            </Alert>
          )}
          <Box sx={{ display: "flex", gap: 1, alignItems: "flex-start", mt: 2 }}>
            <Field
              name="name"
              label="Name, to save it"
              value={name}
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== "Enter") return;
                event.preventDefault();
                if (name.trim() !== "") keep();
              }}
              sx={{ maxWidth: 280 }}
              errors={save.errors}
            />
            <Button disabled={name.trim() === ""} onClick={keep}>
              Save the filter
            </Button>
          </Box>
        </DialogContent>
        <DialogActions>
          <Typography variant="body2" color="textSecondary" sx={{ flex: 1, pl: 2 }}>
            Small and capital letters count as the same.
          </Typography>
          <Button onClick={() => props.onApply(null)}>No filter</Button>
          <Button type="submit" variant="contained">
            {total === null ? "Show them" : `Show ${count(total, "person", "people")}`}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

type Group = Filter["groups"][number];

/** The same list with another at a place, or without it. */
const replaced = <T,>(list: readonly T[], at: number, by: T | null): T[] =>
  by === null ? list.toSpliced(at, 1) : list.toSpliced(at, 1, by);

/** The conditions of a group; `onChange` gets null once none is left. */
function Conditions(props: {
  group: Group;
  fields: string[];
  choices: FilterChoices;
  onChange: (group: Group | null) => void;
}) {
  const { group, fields, choices, onChange } = props;
  const set = (conditions: Condition[]) =>
    onChange(conditions.length === 0 ? null : { ...group, conditions });
  return (
    <>
      {group.conditions
        .map((condition, nth) => ({ condition, nth }))
        .map(({ condition, nth }) => (
          <ConditionRow
            key={nth}
            condition={condition}
            fields={fields}
            choices={choices}
            onChange={(changed) => set(replaced(group.conditions, nth, changed))}
          />
        ))}
      <Box sx={{ display: "flex", alignItems: "center", gap: 2 }}>
        <Button size="small" onClick={() => set([...group.conditions, FRESH])}>
          Add a condition
        </Button>
        {group.conditions.length > 1 && (
          <Match
            label="In this group"
            value={group.match}
            onChange={(match) => onChange({ ...group, match })}
            words={["all must match", "any may match"]}
          />
        )}
      </Box>
    </>
  );
}

function ConditionRow(props: {
  condition: Condition;
  fields: string[];
  choices: FilterChoices;
  onChange: (condition: Condition | null) => void;
}) {
  const { condition, fields, choices, onChange } = props;
  const kind = kindOfField(condition.field) ?? "text";
  const set = (change: Partial<Condition>) => onChange({ ...condition, ...change });
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1.2fr 1fr 1.5fr 32px", gap: 1, mb: 1 }}>
      <Choice
        label="Field"
        value={condition.field}
        onChange={(field) =>
          set({
            field,
            op: OPS[kindOfField(field) ?? "text"][0]?.[0] ?? "is",
            value: choicesOf(field, choices)[0]?.[0] ?? "",
          })
        }
        options={fields.map((field) => [field, nameOf(field)] as const)}
      />
      <Choice label="How" value={condition.op} onChange={(op) => set({ op })} options={OPS[kind]} />
      {["empty", "filled", "never"].includes(condition.op) ? (
        <span />
      ) : kind === "choice" ? (
        <Choice
          label="Value"
          value={condition.value}
          onChange={(value) => set({ value })}
          options={choicesOf(condition.field, choices)}
        />
      ) : (
        <TextField
          label="Value"
          type={kind === "days" ? "number" : "text"}
          value={condition.value}
          onChange={({ target }) => set({ value: target.value })}
        />
      )}
      <IconButton aria-label="Take this condition out" onClick={() => onChange(null)}>
        <SvgIcon sx={{ fontSize: 18 }}>
          <path d="m6.4 5 5.6 5.6L17.6 5 19 6.4 13.4 12l5.6 5.6-1.4 1.4-5.6-5.6L6.4 19 5 17.6l5.6-5.6L5 6.4z" />
        </SvgIcon>
      </IconButton>
    </Box>
  );
}

function Match(props: {
  label: string;
  value: "all" | "any";
  words: [all: string, any: string];
  onChange: (match: "all" | "any") => void;
}) {
  return (
    <Choice
      variant="standard"
      value={props.value}
      onChange={(chosen) => props.onChange(chosen as "all" | "any")}
      slotProps={{ htmlInput: { "aria-label": props.label } }}
      sx={{ width: 170, mb: 1 }}
      options={[
        ["all", props.words[0]],
        ["any", props.words[1]],
      ]}
    />
  );
}
