/** What goes which way between here and the CRM. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { type CrmSettings, DEAL_MOMENTS, type FieldMap, WINNERS, type Winner } from "../../core/crm/settings";
import { STAGE_NAMES, STAGES } from "../../core/prospects/stages";
import type { Choices } from "../../server/crm/choices";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { Row } from "../components/row";
import { Tick } from "../components/tick";
import type { Action } from "../components/use-action";
import { FilterSelect } from "./filter-select";

const WINS: Record<Winner, string> = {
  there: "the CRM is right",
  here: "we are right",
  later: "the later one is right",
  ask: "ask us",
};
const MOMENTS: Record<CrmSettings["deals"]["at"], string> = {
  never: "by nobody but a rule or a person",
  first_email: "at the first email",
  positive: "at a positive answer",
  booked: "when a call is booked",
};
const COLUMNS = { xs: "1fr", sm: "170px minmax(0, 1fr) 190px 96px" };
const wide = { flex: "1 1 240px", maxWidth: 420 } as const;

export function CrmSettingsForm(props: {
  of: Action<unknown>;
  known: CrmSettings;
  choices: Choices;
  filters: readonly { name: string; definition: string }[];
  /** Every field that can be mapped, the team's own among them. */
  fields: readonly { name: string; words: string }[];
  mayChange: boolean;
}) {
  const { of, known, choices, filters, fields, mayChange } = props;
  const [settings, setSettings] = useState(known);
  const change = (part: Partial<CrmSettings>) => setSettings((before) => ({ ...before, ...part }));
  const isChanged = JSON.stringify(settings) !== JSON.stringify(known);
  const { deals, logs, stages } = settings;
  return (
    <Box
      component="fieldset"
      disabled={!mayChange}
      aria-label="What goes which way"
      sx={{ border: 0, p: 0, m: 0, minWidth: 0, display: "grid", gap: 2.5, maxWidth: 820 }}
    >
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap" }}>
        <PlainSelect
          label="Who comes in"
          value={settings.view}
          options={[
            ["", "everybody there"],
            ...choices.views.map(({ id, name }) => [id, `its filter “${name}”`] as const),
          ]}
          onChange={(view) => change({ view })}
          sx={wide}
        />
        <PlainTextField
          label="List for who is new"
          value={settings.list}
          errors={of.errors}
          name="list"
          onChange={({ target }) => change({ list: target.value })}
          sx={wide}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap" }}>
        <PlainSelect
          label="Who is made there"
          value={settings.makesPeople ? "some" : "nobody"}
          options={[
            ["nobody", "nobody but for a deal"],
            ["some", "those of ours …"],
          ]}
          onChange={(who) => change({ makesPeople: who === "some" })}
          sx={wide}
        />
        {settings.makesPeople && (
          <FilterSelect
            label="Whom of ours"
            known={known.filter}
            value={settings.filter}
            filters={filters}
            onChange={(filter) => change({ filter })}
            sx={wide}
          />
        )}
      </Box>
      <Fields
        fields={settings.fields}
        all={fields}
        errors={of.errors}
        onChange={(changed) => setSettings((before) => ({ ...before, fields: changed(before.fields) }))}
      />
      <Box>
        <Typography sx={{ fontWeight: 600, mb: 1 }}>What our stages are called there</Typography>
        <Box sx={{ display: "grid", gap: 1.25, gridTemplateColumns: { xs: "1fr 1fr", sm: "1fr 1fr 1fr" } }}>
          {STAGES.map((stage) => (
            <PlainTextField
              key={stage}
              label={STAGE_NAMES[stage]}
              value={stages[stage] ?? ""}
              onChange={({ target }) =>
                setSettings((before) => ({ ...before, stages: { ...before.stages, [stage]: target.value } }))
              }
            />
          ))}
        </Box>
      </Box>
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap" }}>
        <PlainSelect
          label="A deal is made"
          value={deals.at}
          options={DEAL_MOMENTS.map((at) => [at, MOMENTS[at]] as const)}
          onChange={(at) => change({ deals: { ...deals, at: at as typeof deals.at } })}
          sx={wide}
        />
        {deals.at !== "never" && (
          <>
            <PlainSelect
              label="At which stage there"
              value={deals.stage}
              options={[["", "Choose …"], ...choices.stages.map(({ id, name }) => [id, name] as const)]}
              onChange={(stage) => change({ deals: { ...deals, stage } })}
              sx={{ width: 190 }}
            />
            <PlainTextField
              label="What it is called"
              value={deals.name}
              onChange={({ target }) => change({ deals: { ...deals, name: target.value } })}
              sx={{ width: 190 }}
            />
          </>
        )}
      </Box>
      <Box role="group" aria-label="What is told there">
        <Typography sx={{ fontWeight: 600, mb: 0.5 }}>
          There it is told, once for each person in step,
        </Typography>
        <Tick
          label="that an email was sent, with its text"
          checked={logs.sent}
          onChange={(sent) => change({ logs: { ...logs, sent } })}
        />
        <Tick
          label="that somebody answered, or wants no more mail"
          checked={logs.replies}
          onChange={(replies) => change({ logs: { ...logs, replies } })}
        />
        <Tick
          label="that a call was booked, moved, cancelled, held or missed"
          checked={logs.meetings}
          onChange={(meetings) => change({ logs: { ...logs, meetings } })}
        />
      </Box>
      <Wrong errors={of.errors} />
      <Box>
        <Button
          type="button"
          variant={isChanged ? "contained" : "outlined"}
          disabled={of.isBusy || !isChanged}
          onClick={() => of.press({ intent: "save", settings })}
        >
          Save
        </Button>
      </Box>
    </Box>
  );
}

/** What stands at no field of its own: one sentence is enough to mend it. */
function Wrong({ errors }: { errors: Readonly<Record<string, string>> }) {
  const [said] = Object.entries(errors).filter(([name]) => name !== "list" && name !== "form");
  return said ? (
    <Typography color="error" variant="body2" role="alert">
      {said[1]}
    </Typography>
  ) : null;
}

function Fields(props: {
  fields: readonly FieldMap[];
  all: readonly { name: string; words: string }[];
  errors: Readonly<Record<string, string>>;
  onChange: (changed: (before: FieldMap[]) => FieldMap[]) => void;
}) {
  const { fields, all, errors, onChange } = props;
  const free = all.filter(({ name }) => !fields.some(({ field }) => field === name));
  const words = (field: string) =>
    all.find(({ name }) => name === field)?.words ?? field.replace(/^custom:/, "").replaceAll("_", " ");
  const set = (field: string, part: Partial<FieldMap>) =>
    onChange((before) => before.map((each) => (each.field === field ? { ...each, ...part } : each)));
  return (
    <Box role="group" aria-label="Which field is which">
      <Row columns={COLUMNS} sx={{ border: 0, display: { xs: "none", sm: "grid" }, color: "text.secondary" }}>
        <Typography variant="body2">Here</Typography>
        <Typography variant="body2">Where it stands there</Typography>
        <Typography variant="body2">Where both changed it</Typography>
        <span />
      </Row>
      {fields.map(({ field, there, wins }, nth) => (
        <Row key={field} columns={COLUMNS} sx={{ alignItems: "center", py: 0.75 }} data-row>
          <Typography sx={{ fontWeight: 600 }}>{words(field)}</Typography>
          {field === "owner" ? (
            <Typography variant="body2" color="textSecondary">
              whose address it is
            </Typography>
          ) : (
            <PlainTextField
              aria-label={`Where ${words(field)} stands there`}
              value={there}
              errors={errors}
              name={`fields.${nth}.there`}
              onChange={({ target }) => set(field, { there: target.value })}
            />
          )}
          <PlainSelect
            aria-label={`Where both changed ${words(field)}`}
            value={wins}
            options={WINNERS.map((each) => [each, WINS[each]] as const)}
            onChange={(side) => set(field, { wins: side as Winner })}
            sx={{ minWidth: 0 }}
          />
          <Button
            size="small"
            type="button"
            disabled={field === "email"}
            aria-label={`Leave out ${words(field)}`}
            onClick={() => onChange((before) => before.filter((each) => each.field !== field))}
          >
            Leave out
          </Button>
        </Row>
      ))}
      {free.length > 0 && (
        <PlainSelect
          aria-label="Another field"
          value=""
          options={[["", "Another field …"], ...free.map(({ name, words }) => [name, words] as const)]}
          onChange={(field) =>
            onChange((before) => [
              ...before,
              { field, there: field.replace(/^custom:/, "fields."), wins: "later" },
            ])
          }
          sx={{ mt: 1, width: 220 }}
        />
      )}
    </Box>
  );
}
