/** What is chosen again and again where a rule is written. */
import { STAGE_NAMES, STAGES, type Stage } from "../../core/prospects/stages";
import { PlainSelect } from "../components/plain-select";
import type { Names } from "./rule-words";

export interface RuleNames extends Names {
  sequences: readonly { id: number; name: string; steps: readonly { id: string; name: string }[] }[];
  webhooks: readonly { id: number; name: string }[];
  fields: readonly { name: string; words: string }[];
  /** Of the CRM's deals. */
  dealStages: readonly string[];
}

const CHOOSE = ["0", "Choose …"] as const;
export const options = (all: readonly { id: number; name: string }[]) => [
  CHOOSE,
  ...all.map(({ id, name }) => [String(id), name] as const),
];
const STAGE_OPTIONS = STAGES.map((stage) => [stage, STAGE_NAMES[stage]] as const);
export const whole = (text: string) => Math.trunc(Number(text)) || 0;

export const line = {
  display: "flex",
  gap: 1.25,
  flexWrap: "wrap",
  alignItems: "flex-start",
  "& > *": { minWidth: 0 },
} as const;
export const wide = { flex: "1 1 240px", maxWidth: 420 } as const;
export const narrow = { flex: "0 0 auto", width: 130 } as const;

export const FieldSelect = ({
  names,
  value,
  onChange,
}: {
  names: RuleNames;
  value: string;
  onChange: (field: string) => void;
}) => (
  <PlainSelect
    aria-label="Which field"
    value={value}
    options={[
      ...(names.fields.some(({ name }) => name === value)
        ? []
        : [[value, value.replace(/^custom:/, "")] as const]),
      ...names.fields.map(({ name, words }) => [name, words] as const),
    ]}
    onChange={onChange}
    sx={wide}
  />
);

export const ListSelect = (props: {
  names: RuleNames;
  value: number;
  onChange: (listId: number) => void;
}) => (
  <PlainSelect
    aria-label="Which list"
    value={String(props.value)}
    options={options(props.names.lists)}
    onChange={(id) => props.onChange(Number(id))}
    sx={wide}
  />
);

export const StageSelect = (props: { value: Stage; onChange: (stage: Stage) => void }) => (
  <PlainSelect
    aria-label="Which stage"
    value={props.value}
    options={STAGE_OPTIONS}
    onChange={(stage) => props.onChange(stage as Stage)}
    sx={wide}
  />
);

/** By its name there; one that is no longer among them stays as it was chosen. */
export const DealStageSelect = (props: {
  names: RuleNames;
  value: string;
  /** What "" stands for. */
  none: string;
  onChange: (stage: string) => void;
}) => (
  <PlainSelect
    aria-label="Which stage of a deal"
    value={props.value}
    options={[
      ["", props.none],
      ...[...new Set([...props.names.dealStages, ...(props.value === "" ? [] : [props.value])])].map(
        (name) => [name, name] as const,
      ),
    ]}
    onChange={props.onChange}
    sx={wide}
  />
);
