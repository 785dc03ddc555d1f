/** Who gets a sequence, when, from where, and what ends it. */

import Box from "@mui/material/Box";
import FormHelperText from "@mui/material/FormHelperText";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { STAGE_NAMES, STOPPING_STAGES } from "../../core/prospects/stages";
import type { WritesTo } from "../../core/prospects/verdict";
import type { APPROVALS, Goal, SequenceSettings as Settings } from "../../core/sequence/settings";
import type { ListRow } from "../../server/prospects/lists/lists";
import type { SenderChoices } from "../../server/sequences/open-sequence";
import type { SequenceForm } from "../../server/sequences/save-sequence";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { DayField, TimeField } from "../components/moment-fields";
import { NumberField, OptionalNumberField } from "../components/number-field";
import { Tick } from "../components/tick";
import { SHORT_WEEKDAYS } from "../components/words";
import { ZoneField } from "../components/zone-field";
import { SenderSettings } from "./sender-settings";
import { ConditionField } from "./timing-fields";

const GOAL_WORDS: Record<Goal, string> = {
  reply: "a reply",
  interested: "an interested reply",
  meeting: "a booked call",
  click: "a click",
  won: "won",
};
const APPROVAL_WORDS: Record<(typeof APPROVALS)[number], string> = {
  none: "by themselves",
  first: "after my yes, for the first people",
  all: "after my yes, for everybody",
};

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box
      component="fieldset"
      sx={{
        border: 0,
        m: 0,
        p: 0,
        minWidth: 0,
        display: "grid",
        gap: 1.5,
        alignContent: "start",
        gridTemplateColumns: "minmax(0, 1fr)",
      }}
    >
      <Typography component="legend" variant="h3" sx={{ mb: 1, p: 0 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

interface Props {
  form: SequenceForm;
  onChange: (changes: Partial<SequenceForm>) => void;
  fields: readonly string[];
  lists: ListRow[];
  senders: SenderChoices;
  /** What a reply can be labelled, but for an opt-out; whether that is set to stop sequences. */
  labels: { code: string; name: string; stops: boolean }[];
  errors: Record<string, string>;
}

/** The settings of a form, and how some of them are changed. */
const settingsOf = ({ form: { settings }, onChange }: Props) => ({
  settings,
  set: (changes: Partial<Settings>) => onChange({ settings: { ...settings, ...changes } }),
});

export function SequenceSettings(props: Props) {
  return (
    <Box
      sx={{
        display: "grid",
        columnGap: 4,
        rowGap: 3.5,
        gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "repeat(2, minmax(0, 1fr))" },
      }}
    >
      <WhoPart {...props} />
      <WhenPart {...props} />
      <SendingPart {...props} />
      <StopsPart {...props} />
    </Box>
  );
}

function WhoPart(props: Props) {
  const { form, onChange, lists, errors } = props;
  const { settings, set } = settingsOf(props);
  return (
    <Part title="Who">
      <Field
        name="name"
        label="Name"
        value={form.name}
        onChange={({ target }) => onChange({ name: target.value })}
        errors={errors}
      />
      <Choice
        label="Writes to the list"
        value={form.listId ?? ""}
        onChange={(chosen) => onChange({ listId: Number(chosen) || null })}
        options={[
          ["", "No list yet"],
          ...lists.map(({ id, name, count }) => [id, `${name} (${count})`] as const),
        ]}
      />
      <Choice
        label="Writes to addresses that are"
        value={form.writesTo}
        onChange={(chosen) => onChange({ writesTo: chosen as WritesTo })}
        helperText="The others start and wait until their address is better known. Bad ones never get mail."
        options={[
          ["good", "good"],
          ["likely", "good or likely"],
          ["doubtful", "good, likely or doubtful"],
          ["any", "any, also not checked, but never bad"],
        ]}
      />
      <Choice
        label="Success is"
        value={settings.goal}
        onChange={(chosen) => set({ goal: chosen as Goal })}
        options={(Object.keys(GOAL_WORDS) as Goal[]).map((goal) => [goal, GOAL_WORDS[goal]] as const)}
      />
      <TextField
        label="Tags"
        value={settings.tags.join(", ")}
        onChange={({ target }) =>
          set({
            tags: target.value
              .split(/,\s*/)
              .slice(0, 8)
              .map((tag) => tag.slice(0, 30))
              .filter((tag, index, all) => tag !== "" || index === all.length - 1)
              .filter(Boolean),
          })
        }
        helperText="With commas between."
      />
      <Tick
        label="Only I and managers see it"
        checked={form.isPersonal}
        onChange={(isPersonal) => onChange({ isPersonal })}
      />
    </Part>
  );
}

function WhenPart(props: Props) {
  const { form, onChange, errors } = props;
  const { settings, set } = settingsOf(props);
  return (
    <Part title="When">
      <ToggleButtonGroup
        size="small"
        value={form.days}
        onChange={(_, days: number[]) => days.length > 0 && onChange({ days: days.toSorted() })}
        aria-label="Weekdays"
      >
        {SHORT_WEEKDAYS.map((name, index) => (
          <ToggleButton key={name} value={index + 1} sx={{ px: 1.25, textTransform: "none" }}>
            {name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <TimeField
          label="from"
          value={form.opens}
          onChange={(opens) => opens && onChange({ opens })}
          error={errors.opens}
        />
        <TimeField
          label="until"
          value={form.closes}
          onChange={(closes) => closes && onChange({ closes })}
          error={errors.closes}
        />
      </Box>
      <Choice
        label="Days and hours count"
        value={settings.zoneOf}
        onChange={(chosen) => set({ zoneOf: chosen as Settings["zoneOf"] })}
        options={[
          ["prospect", "where the prospect is"],
          ["sequence", "in the zone below"],
        ]}
      />
      <ZoneField value={form.zone} onChange={(zone) => onChange({ zone })} error={errors.zone} />
      <Tick
        label="Not on public holidays where they are"
        checked={settings.holidays}
        onChange={(holidays) => set({ holidays })}
      />
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <DayField
          label="Not before"
          value={settings.startsOn ?? ""}
          onChange={(day) => set({ startsOn: day || null })}
        />
        <OptionalNumberField
          label="New people a day"
          placeholder="no limit"
          value={settings.newADay}
          most={100_000}
          onChange={(newADay) => set({ newADay })}
        />
      </Box>
    </Part>
  );
}

function SendingPart(props: Props) {
  const { form, onChange, lists, senders, errors } = props;
  const { settings, set } = settingsOf(props);
  return (
    <Part title="From where, and how">
      <SenderSettings
        form={form}
        onChange={onChange}
        senders={senders}
        people={lists.find(({ id }) => id === form.listId)?.count ?? 0}
      />
      <Choice
        label="Emails leave"
        value={settings.approval}
        onChange={(chosen) => set({ approval: chosen as Settings["approval"] })}
        options={(Object.keys(APPROVAL_WORDS) as Settings["approval"][]).map(
          (each) => [each, APPROVAL_WORDS[each]] as const,
        )}
      />
      {settings.approval === "first" && (
        <NumberField
          label="How many people"
          value={settings.approveFirst}
          least={1}
          most={500}
          onChange={(number) => set({ approveFirst: number })}
          helperText="The others wait until you have decided about these."
        />
      )}
      <Choice
        label="Its page"
        value={settings.pageId ?? ""}
        onChange={(chosen) => set({ pageId: Number(chosen) || null })}
        helperText={
          senders.pages.length === 0
            ? "Under Sequences, “Pages for prospects”: make one, and texts can lead to it."
            : "What “page link” and “page picture” in its texts lead to."
        }
        options={[["", "none"], ...senders.pages.map(({ id, name }) => [id, name] as const)]}
      />
      <Tick
        label="Send lines that nobody has read"
        hint="What the assistant wrote about somebody waits until a person has read it. On: it goes as it is."
        checked={settings.sendsUnread}
        onChange={(sendsUnread) => set({ sendsUnread })}
      />
      <Tick
        label="See opens"
        hint="By a tiny picture. Many mail programs load it by themselves or never, and filters weigh it: off is the honest choice."
        checked={settings.tracksOpens}
        onChange={(tracksOpens) => set({ tracksOpens })}
      />
      <Tick
        label="See clicks"
        hint="Links lead through this server first. Readers see another address than the one you wrote."
        checked={settings.tracksClicks}
        onChange={(tracksClicks) => set({ tracksClicks })}
      />
      <Field
        name="settings.cc"
        label="Copy to (cc)"
        value={settings.cc}
        onChange={({ target }) => set({ cc: target.value })}
        errors={errors}
      />
      <Field
        name="settings.bcc"
        label="Blind copy to (bcc)"
        value={settings.bcc}
        onChange={({ target }) => set({ bcc: target.value })}
        errors={errors}
      />
      <Field
        name="settings.crm"
        label="CRM address"
        value={settings.crm}
        onChange={({ target }) => set({ crm: target.value })}
        errors={errors}
        helperText="A blind copy by which a CRM files it."
      />
    </Part>
  );
}

function StopsPart(props: Props) {
  const { fields, labels } = props;
  const { settings, set } = settingsOf(props);
  const stops = (changes: Partial<Settings["stops"]>) => set({ stops: { ...settings.stops, ...changes } });
  return (
    <Part title="Stops for somebody when">
      <Box>
        <Tick label="they reply" checked={settings.stops.reply} onChange={(reply) => stops({ reply })} />
        {!settings.stops.reply && (
          <LabelTicks
            title="but a reply labelled so does"
            labels={labels}
            chosen={settings.stops.labels ?? labels.filter((each) => each.stops).map(({ code }) => code)}
            onChange={(chosen) => stops({ labels: chosen })}
          />
        )}
        <Tick
          label="they book a call"
          checked={settings.stops.meeting}
          onChange={(meeting) => stops({ meeting })}
        />
        <Tick
          label="they click a link"
          checked={settings.stops.click}
          onChange={(click) => stops({ click })}
        />
        <Tick label="they open an email" checked={settings.stops.open} onChange={(open) => stops({ open })} />
        {STOPPING_STAGES.map((stage) => (
          <Tick
            key={stage}
            label={`you move them to ${STAGE_NAMES[stage]}`}
            checked={settings.stops.stages.includes(stage)}
            onChange={(checked) =>
              stops({
                stages: checked
                  ? [...settings.stops.stages, stage]
                  : settings.stops.stages.filter((each) => each !== stage),
              })
            }
          />
        ))}
        <Tick
          label="a field has a value"
          checked={settings.stops.field !== null}
          onChange={(checked) =>
            stops({ field: checked ? { about: "field", field: "title", op: "contains", value: "" } : null })
          }
        />
        {settings.stops.field && (
          <Box sx={{ mt: 1 }}>
            <ConditionField
              label="they"
              condition={settings.stops.field}
              askable={{ abouts: ["field"], emails: [] }}
              fields={fields}
              onChange={(field) => stops({ field })}
            />
          </Box>
        )}
        <FormHelperText>
          A bounce for good, an opt-out and the block list always stop it. A label that a fork waits for leads
          on its way, and stops nothing.
        </FormHelperText>
      </Box>
      <Tick
        label="A reply holds their colleagues"
        hint="They wait until you let them go on. People at free-mail providers are nobody's colleagues."
        checked={settings.holdsCompany}
        onChange={(holdsCompany) => set({ holdsCompany })}
      />
      <TextField
        label="Then, on Today, do"
        placeholder="nothing more"
        value={settings.thenErrand}
        onChange={({ target }) => set({ thenErrand: target.value })}
        helperText="An errand for you once somebody booked, or wants to talk."
        slotProps={{ inputLabel: { shrink: true } }}
      />
      {settings.thenErrand !== "" && (
        <LabelTicks
          title="It comes with a booked call, and with a reply labelled"
          labels={labels}
          chosen={settings.thenOn}
          onChange={(thenOn) => set({ thenOn })}
        />
      )}
      <NumberField
        label="Away: leave them alone for so many working days"
        value={settings.awayDays}
        most={60}
        onChange={(number) => set({ awayDays: number })}
      />
    </Part>
  );
}

/** Some of the labels, ticked. */
function LabelTicks(props: {
  title: string;
  labels: Props["labels"];
  chosen: readonly string[];
  onChange: (codes: string[]) => void;
}) {
  const { title, labels, chosen, onChange } = props;
  return (
    <Box component="fieldset" sx={{ border: 0, m: 0, p: 0, pl: 3.5 }}>
      <Typography component="legend" variant="body2" color="textSecondary">
        {title}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2 }}>
        {labels.map(({ code, name }) => (
          <Tick
            key={code}
            label={name}
            checked={chosen.includes(code)}
            onChange={(checked) =>
              onChange(checked ? [...chosen, code] : chosen.filter((each) => each !== code))
            }
          />
        ))}
      </Box>
    </Box>
  );
}
