import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Mate, OwnPage } from "../../server/meetings/booking-pages";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { useAction } from "../components/use-action";
import { SHORT_WEEKDAYS } from "../components/words";
import { Part, type Said, three, two } from "./parts";

const LENGTHS = [15, 20, 30, 45, 60, 90];

/** Several of a few; sends them with commas between. */
function Several({
  name,
  label,
  options,
  value,
  onChange,
  error,
}: {
  name: string;
  label: string;
  options: [number, string][];
  value: number[];
  onChange: (value: number[]) => void;
  error: string | undefined;
}) {
  return (
    <Box>
      <Typography variant="body2" color={error ? "error" : "textSecondary"} sx={{ mb: 0.5 }}>
        {error ?? label}
      </Typography>
      <input type="hidden" name={name} value={value.join()} />
      <ToggleButtonGroup
        size="small"
        value={value}
        onChange={(_, next: number[]) => onChange(next)}
        aria-label={label}
      >
        {options.map(([each, words]) => (
          <ToggleButton key={each} value={each} sx={{ textTransform: "none", px: 1.5 }}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}

/** Whether colleagues' pages may book calls with whoever is signed in. */
export function Hosting({ isOn }: { isOn: boolean }) {
  const part = useAction<Said>();
  return (
    <Part title="Calls on colleagues' pages" intent="hosting" button="Save" of={part}>
      <FormControlLabel
        control={<Checkbox name="colleaguesBook" defaultChecked={isOn} />}
        label="Colleagues may put me on their booking pages; my free times and my calendar count as on my own"
      />
    </Part>
  );
}

/** A booking page: its address, what it offers, what it asks, and who takes its calls. */
function CopyLink({ link, isMain }: { link: string; isMain: OwnPage["isMain"] }) {
  const [copied, setCopied] = useState(false);
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
      <TextField
        label={isMain ? "Its address; in an email write {{ booking_link }}" : "Its address"}
        value={link}
        slotProps={{ htmlInput: { readOnly: true } }}
        sx={{ flex: 1 }}
      />
      <Button
        type="button"
        onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}
        sx={{ minWidth: 92 }}
      >
        {copied ? "Copied" : "Copy it"}
      </Button>
    </Box>
  );
}

export function BookingPageSettings({
  page,
  url,
  zone,
  mates,
}: {
  /** Null: a new one. */
  page: OwnPage | null;
  /** The address before its last part. */
  url: string;
  zone: string;
  mates: Mate[];
}) {
  const part = useAction<Said>();
  const { errors } = part;
  const rules = page?.rules ?? NEW_PAGE;
  const [days, setDays] = useState(rules.days);
  const [lengths, setLengths] = useState(rules.lengths);
  const [where, setWhere] = useState(rules.where);
  const [hosts, setHosts] = useState(page?.hostIds ?? [mates[0]?.id ?? 0]);
  const [questions, setQuestions] = useState(rules.questions);
  const link = `${url}/${page?.slug ?? ""}`;
  return (
    <Part
      title={page ? page.name : "A new booking page"}
      intent="booking"
      button={page ? "Save this page" : "Make the page"}
      of={part}
    >
      <input type="hidden" name="id" value={page?.id ?? ""} />
      <input type="hidden" name="questions" value={JSON.stringify(questions)} />
      <Box sx={two}>
        <Field errors={errors} name="name" label="Its name" defaultValue={page?.name ?? ""} />
        {!page && (
          <Field errors={errors} name="slug" label="Last part of its address" helperText={`${url}/…`} />
        )}
      </Box>
      {page && <CopyLink link={link} isMain={page.isMain} />}
      <Field
        errors={errors}
        name="about"
        label="What visitors read above the times"
        multiline
        defaultValue={rules.about}
      />
      {mates.length > 1 && (
        <Several
          name="hostIds"
          label="Who takes the calls; of several, whoever has the fewest"
          options={mates
            .filter(({ id, mayHost }) => mayHost || hosts.includes(id))
            .map(({ id, name }) => [id, name])}
          value={hosts}
          onChange={setHosts}
          error={errors.hostIds}
        />
      )}
      {mates.length <= 1 && <input type="hidden" name="hostIds" value={hosts.join()} />}
      <Several
        name="days"
        label={`Days on which calls can be, in ${zone.replaceAll("_", " ")}`}
        options={SHORT_WEEKDAYS.map((day, index) => [index + 1, day])}
        value={days}
        onChange={setDays}
        error={errors.days}
      />
      <Box sx={two}>
        <Field errors={errors} name="opens" label="From" type="time" defaultValue={rules.opens} />
        <Field errors={errors} name="closes" label="Until" type="time" defaultValue={rules.closes} />
      </Box>
      <Several
        name="lengths"
        label="How long a call may take; with several, the visitor chooses"
        options={LENGTHS.map((minutes) => [minutes, `${minutes} min`])}
        value={lengths}
        onChange={setLengths}
        error={errors.lengths}
      />
      <Box sx={three}>
        <Field errors={errors} name="buffer" label="Free minutes around each" defaultValue={rules.buffer} />
        <Field errors={errors} name="notice" label="Hours of notice" defaultValue={rules.notice} />
        <Field errors={errors} name="daysAhead" label="Days ahead" defaultValue={rules.daysAhead} />
        <Field
          errors={errors}
          name="mostADay"
          label="Calls a day at most"
          defaultValue={rules.mostADay}
          helperText="0 for as many as fit."
        />
        <Field
          errors={errors}
          name="remindHours"
          label="Reminded before, hours"
          defaultValue={rules.remindHours}
          helperText="0 for no reminder."
        />
        <Choice
          errors={errors}
          name="where"
          label="Where"
          value={where}
          onChange={(chosen) => setWhere(chosen === "place" ? "place" : "phone")}
          options={[
            ["phone", "I call them; the page asks for the number"],
            ["place", "We meet in one place, or at one link"],
          ]}
        />
      </Box>
      {where === "place" && (
        <Field
          errors={errors}
          name="place"
          label="The place, or the link of the video room"
          defaultValue={rules.place}
        />
      )}
      {questions.map(({ text, required }, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a question has nothing of its own but its place
        <Box key={index} sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <TextField
            label={`Question ${index + 1}`}
            value={text}
            onChange={({ target }) =>
              setQuestions(
                questions.map((each, at) => (at === index ? { ...each, text: target.value } : each)),
              )
            }
            sx={{ flex: 1 }}
          />
          <Button
            type="button"
            onClick={() =>
              setQuestions(
                questions.map((each, at) => (at === index ? { ...each, required: !required } : each)),
              )
            }
          >
            {required ? "Must be answered" : "If they like"}
          </Button>
          <Button type="button" onClick={() => setQuestions(questions.filter((_, at) => at !== index))}>
            Leave out
          </Button>
        </Box>
      ))}
      {questions.length < 6 && (
        <Box>
          <Button
            type="button"
            size="small"
            onClick={() => setQuestions([...questions, { text: "", required: false }])}
          >
            Ask something
          </Button>
        </Box>
      )}
    </Part>
  );
}

const NEW_PAGE: OwnPage["rules"] = {
  about: "",
  days: [1, 2, 3, 4, 5],
  opens: "09:00",
  closes: "17:30",
  lengths: [30],
  buffer: 0,
  notice: 2,
  daysAhead: 14,
  mostADay: 0,
  where: "phone",
  place: "",
  questions: [],
  remindHours: 24,
};
