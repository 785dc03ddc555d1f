/** What sets a rule off, as it is written. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { When, WhenKind } from "../../core/rules/rule";
import { PlainSelect } from "../components/plain-select";
import { PlainTextField } from "../components/plain-text-field";
import {
  DealStageSelect,
  FieldSelect,
  ListSelect,
  line,
  narrow,
  type RuleNames,
  StageSelect,
  whole,
  wide,
} from "./rule-choices";
import { WHEN_WORDS } from "./rule-words";

/** A place that is not filled in yet stands as 0, which no saved rule has. */
const BEGINNINGS: Record<WhenKind, When> = {
  form: { kind: "form", listId: 0 },
  listed: { kind: "listed", listId: 0 },
  stage: { kind: "stage", to: "won" },
  field: { kind: "field", field: "city", to: "" },
  owner: { kind: "owner" },
  label: { kind: "label", label: "interested" },
  answered: { kind: "answered" },
  opened: { kind: "opened", times: 3 },
  clicked: { kind: "clicked", contains: "" },
  watched: { kind: "watched", share: 50 },
  booked: { kind: "booked" },
  missed: { kind: "missed" },
  deal: { kind: "deal", to: "" },
  silent: { kind: "silent", days: 7 },
  date: { kind: "date", field: "city", days: 14 },
  called: {
    kind: "called",
    list: "",
    mapping: { email: "email", firstName: "first_name", lastName: "last_name" },
  },
};

export function WhenFields({
  when,
  names,
  onChange,
}: {
  when: When;
  names: RuleNames;
  onChange: (when: When) => void;
}) {
  return (
    <Box sx={line}>
      <PlainSelect
        aria-label="When"
        value={when.kind}
        options={Object.entries(WHEN_WORDS)}
        onChange={(kind) => onChange(BEGINNINGS[kind as WhenKind])}
        sx={wide}
      />
      <WhenDetail when={when} names={names} onChange={onChange} />
    </Box>
  );
}

function WhenDetail({
  when,
  names,
  onChange,
}: {
  when: When;
  names: RuleNames;
  onChange: (when: When) => void;
}) {
  switch (when.kind) {
    case "form":
    case "listed":
      return (
        <ListSelect names={names} value={when.listId} onChange={(listId) => onChange({ ...when, listId })} />
      );
    case "stage":
      return <StageSelect value={when.to} onChange={(to) => onChange({ ...when, to })} />;
    case "field":
      return (
        <>
          <FieldSelect names={names} value={when.field} onChange={(field) => onChange({ ...when, field })} />
          <PlainTextField
            label="To what; empty for anything"
            value={when.to}
            onChange={({ target }) => onChange({ ...when, to: target.value })}
            sx={wide}
          />
        </>
      );
    case "deal":
      return (
        <DealStageSelect
          names={names}
          value={when.to}
          none="to any stage"
          onChange={(to) => onChange({ ...when, to })}
        />
      );
    case "label":
      return (
        <PlainSelect
          aria-label="Which label"
          value={when.label}
          options={names.labels.map(({ code, name }) => [code, name] as const)}
          onChange={(label) => onChange({ ...when, label })}
          sx={wide}
        />
      );
    case "opened":
      return (
        <PlainSelect
          aria-label="How often"
          value={String(when.times)}
          options={[1, 2, 3, 4, 5].map(
            (times) => [String(times), times === 1 ? "once" : `${times} times`] as const,
          )}
          onChange={(times) => onChange({ ...when, times: Number(times) })}
          sx={narrow}
        />
      );
    case "clicked":
      return (
        <PlainTextField
          label="A part of its address; empty for any"
          value={when.contains}
          onChange={({ target }) => onChange({ ...when, contains: target.value })}
          sx={wide}
        />
      );
    case "watched":
      return (
        <PlainSelect
          aria-label="How much of it"
          value={String(when.share)}
          options={[
            ["0", "its beginning"],
            ["25", "a quarter"],
            ["50", "half"],
            ["75", "three quarters"],
            ["100", "to the end"],
          ]}
          onChange={(share) => onChange({ ...when, share: Number(share) as typeof when.share })}
          sx={narrow}
        />
      );
    case "silent":
      return (
        <PlainTextField
          label="Days"
          type="number"
          value={String(when.days)}
          onChange={({ target }) => onChange({ ...when, days: whole(target.value) })}
          sx={narrow}
        />
      );
    case "date":
      return (
        <>
          <FieldSelect names={names} value={when.field} onChange={(field) => onChange({ ...when, field })} />
          <PlainTextField
            label="Days before; −7: after"
            type="number"
            value={String(when.days)}
            onChange={({ target }) => onChange({ ...when, days: whole(target.value) })}
            sx={{ ...narrow, width: 180 }}
          />
        </>
      );
    case "called":
      return (
        <>
          <PlainTextField
            label="List for who is new"
            value={when.list}
            onChange={({ target }) => onChange({ ...when, list: target.value })}
            sx={wide}
          />
          <Box sx={{ flex: "1 1 100%" }}>
            <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
              Where each field stands in the JSON that it sends, as “contact.email”.
            </Typography>
            <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr 1fr" } }}>
              {["email", "firstName", "lastName", "company", "title", "phone"].map((field) => (
                <PlainTextField
                  key={field}
                  label={names.fields.find(({ name }) => name === field)?.words ?? field}
                  value={when.mapping[field] ?? ""}
                  onChange={({ target }) => {
                    const { [field]: _, ...others } = when.mapping;
                    onChange({
                      ...when,
                      mapping: target.value === "" ? others : { ...others, [field]: target.value },
                    });
                  }}
                />
              ))}
            </Box>
          </Box>
        </>
      );
    default:
      return null;
  }
}
