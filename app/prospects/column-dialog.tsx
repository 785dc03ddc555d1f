/** A new column, or another way of asking for one: what is ready, what the team has, and what one makes oneself. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { ColumnSettings } from "../../core/research/column";
import { COLUMN_KINDS, type ColumnKind, type Gives } from "../../core/research/column-kinds";
import type { ListColumn, Research } from "../../server/research/research-of-list";
import { Confirm } from "../components/dialogs";
import type { FieldErrors } from "../components/field";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import { Row } from "../components/row";
import { KIND_WORDS, PIECE_CHOICES } from "./research-words";

export interface ColumnForm {
  name: string;
  gives: Gives;
  freshDays: number;
  settings: ColumnSettings;
  key: string;
}

const EMPTY: Record<ColumnKind, ColumnSettings> = {
  site: { kind: "site", piece: "line" },
  ask: { kind: "ask", question: "", reads: "site", most: 300 },
  formula: { kind: "formula", formula: "" },
  service: { kind: "service", url: "https://", header: "authorization", valueAt: "", sourceAt: "" },
};

export function ColumnDialog(props: {
  research: Pick<Research, "ready" | "others">;
  /** The one that is changed; null for a new one. */
  known: ListColumn | null;
  errors: FieldErrors;
  isBusy: boolean;
  onClose: () => void;
  onPut: (columnId: number) => void;
  onSave: (form: ColumnForm) => void;
}) {
  const { research, known, errors, isBusy } = props;
  const [form, setForm] = useState<ColumnForm | null>(
    known
      ? {
          name: known.name,
          gives: known.gives,
          freshDays: known.freshDays,
          settings: known.settings,
          key: "",
        }
      : null,
  );
  if (form === null)
    return (
      <Confirm
        title="A new column"
        keep="Close"
        act="Make one of your own"
        width="sm"
        onClose={props.onClose}
        onAct={() => setForm({ name: "", gives: "text", freshDays: 90, settings: EMPTY.ask, key: "" })}
      >
        <Typography color="textSecondary" sx={{ mb: 1.5 }}>
          It is tried on five first. What it finds is kept for its companies, so that everybody has it.
        </Typography>
        {research.ready.map(({ id, name, says, settings }) => (
          <Choice
            key={id}
            name={name}
            says={says}
            act="Take it"
            isBusy={isBusy}
            onAct={() => props.onSave({ name, gives: "text", freshDays: 90, settings, key: "" })}
          />
        ))}
        {research.others.map(({ id, name, kind }) => (
          <Choice
            key={id}
            name={name}
            says={`The team has it. ${KIND_WORDS[kind].name}.`}
            act="Take it"
            isBusy={isBusy}
            onAct={() => props.onPut(id)}
          />
        ))}
        {errors.form && (
          <Typography role="alert" sx={{ color: "error.main", mt: 1 }}>
            {errors.form}
          </Typography>
        )}
      </Confirm>
    );
  const set = (change: Partial<ColumnForm>) => setForm((before) => before && { ...before, ...change });
  const setting = (change: object) =>
    setForm(
      (before) => before && { ...before, settings: { ...before.settings, ...change } as ColumnSettings },
    );
  return (
    <Confirm
      title={known ? `“${known.name}”` : "A column of your own"}
      keep="Leave it"
      act={known ? "Save it" : "Make it"}
      width="sm"
      isWaiting={isBusy}
      onClose={props.onClose}
      onAct={() => props.onSave(form)}
    >
      <Box sx={{ display: "grid", gap: 2, pt: 1 }}>
        <PlainTextField
          label="What it is called"
          name="name"
          value={form.name}
          onChange={({ target }) => set({ name: target.value })}
          errors={errors}
        />
        {!known && (
          <PlainSelect
            label="How it is found"
            value={form.settings.kind}
            onChange={(kind) => set({ settings: EMPTY[kind as ColumnKind] })}
            options={COLUMN_KINDS.map((kind) => [kind, KIND_WORDS[kind].name] as const)}
            sx={{ width: "100%" }}
          />
        )}
        <SettingsFields settings={form.settings} onChange={setting} errors={errors} />
        {(form.settings.kind === "formula" || form.settings.kind === "service") && (
          <PlainSelect
            label="What comes out"
            value={form.gives}
            onChange={(gives) => set({ gives: gives as Gives })}
            options={[
              ["text", "text"],
              ["link", "a link"],
              ["number", "a number"],
            ]}
            sx={{ width: "100%" }}
          />
        )}
        {form.settings.kind === "service" && (
          <PlainTextField
            label="Its key"
            type="password"
            autoComplete="off"
            value={form.key}
            onChange={({ target }) => set({ key: target.value })}
            helperText={
              known?.hasKey
                ? "One is kept. Type another to replace it."
                : "Only if it wants one. It is kept sealed."
            }
          />
        )}
        {errors.form && (
          <Typography role="alert" sx={{ color: "error.main" }}>
            {errors.form}
          </Typography>
        )}
      </Box>
    </Confirm>
  );
}

function Choice(props: { name: string; says: string; act: string; isBusy: boolean; onAct: () => void }) {
  return (
    <Row sx={{ alignItems: "center", py: 1 }} data-row>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography sx={{ fontWeight: 600 }}>{props.name}</Typography>
        <Typography variant="body2" color="textSecondary">
          {props.says}
        </Typography>
      </Box>
      <Button
        size="small"
        disabled={props.isBusy}
        onClick={props.onAct}
        aria-label={`${props.act}: ${props.name}`}
      >
        {props.act}
      </Button>
    </Row>
  );
}

function SettingsFields({
  settings,
  onChange,
  errors,
}: {
  settings: ColumnSettings;
  onChange: (change: object) => void;
  errors: FieldErrors;
}) {
  switch (settings.kind) {
    case "site":
      return (
        <PlainSelect
          label="What of it"
          value={settings.piece}
          onChange={(piece) => onChange({ piece })}
          options={PIECE_CHOICES}
          sx={{ width: "100%" }}
        />
      );
    case "ask":
      return (
        <>
          <PlainTextField
            label="The question"
            name="settings.question"
            multiline
            minRows={3}
            value={settings.question}
            onChange={({ target }) => onChange({ question: target.value })}
            errors={errors}
            helperText="With fields in it, as in texts: {{ company }}, {{ title }}. One with a person's field is asked for each person."
          />
          <PlainSelect
            label="Answered from"
            value={settings.reads}
            onChange={(reads) => onChange({ reads })}
            options={[
              ["site", "their web site"],
              ["fields", "the fields in the question"],
            ]}
            sx={{ width: "100%" }}
          />
        </>
      );
    case "formula":
      return (
        <PlainTextField
          label="The formula"
          name="settings.formula"
          multiline
          minRows={2}
          value={settings.formula}
          onChange={({ target }) => onChange({ formula: target.value })}
          errors={errors}
          helperText="{{ company }} in {{ city | default: 'their town' }}"
        />
      );
    case "service":
      return (
        <>
          <PlainTextField
            label="Its address"
            name="settings.url"
            value={settings.url}
            onChange={({ target }) => onChange({ url: target.value })}
            errors={errors}
            helperText="https://facts.example/company?domain={{ company_domain }}"
          />
          <PlainTextField
            label="Where the value stands in its JSON"
            name="settings.valueAt"
            value={settings.valueAt}
            onChange={({ target }) => onChange({ valueAt: target.value })}
            errors={errors}
            helperText="company.revenue"
          />
          <PlainTextField
            label="Where it says on what it rests"
            name="settings.sourceAt"
            value={settings.sourceAt}
            onChange={({ target }) => onChange({ sourceAt: target.value })}
            errors={errors}
            helperText="Only if it does."
          />
        </>
      );
  }
}
