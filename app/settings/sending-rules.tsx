import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import type { SendingSettings } from "../../server/sending/rules";
import { Field } from "../components/field";
import { useAction } from "../components/use-action";
import { Part, type Said, three } from "./parts";

/** The form's flat fields as the rules that they are; an empty cap is none. */
export function sendingForm(form: Record<string, string>): Record<string, unknown> {
  const number = (name: string) => Number(form[name] ?? "");
  return {
    followUpPercent: form.followUpPercent,
    domainADay: form.domainADay === "" ? null : form.domainADay,
    daysBetween: form.daysBetween,
    blockZones: (form.blockZones ?? "").split(/[\s,]+/).filter((zone) => zone !== ""),
    copyTo: (form.copyTo ?? "").trim(),
    rampExchange: form.rampExchange === "on",
    rest: {
      windowDays: number("windowDays"),
      fewestSent: number("fewestSent"),
      bouncePercent: number("bouncePercent"),
      complaintPercent: number("complaintPercent"),
      restDays: number("restDays"),
      returnPercent: number("returnPercent"),
    },
  };
}

export function SendingRules({ settings, isManager }: { settings: SendingSettings; isManager: boolean }) {
  const part = useAction<Said>();
  const { errors } = part;
  const field = (name: string, label: string, value: string | number, helperText?: string, key = name) => (
    <Field
      errors={errors[key] ? { [name]: errors[key] } : {}}
      name={name}
      label={label}
      defaultValue={value}
      helperText={helperText}
    />
  );
  const rest = (name: keyof SendingSettings["rest"], label: string, helperText?: string) =>
    field(name, label, settings.rest[name], helperText, `rest.${name}`);
  return (
    <Part title="All sending" intent="sending" button="Save for everybody" of={part} disabled={!isManager}>
      {!isManager && <Typography color="textSecondary">A manager of your team changes these.</Typography>}
      <Box sx={three}>
        {field(
          "followUpPercent",
          "Follow-ups' share of a day, %",
          settings.followUpPercent,
          "While new prospects wait too.",
        )}
        {field("domainADay", "A day to one recipient domain", settings.domainADay ?? "", "Empty: no cap.")}
        {field(
          "daysBetween",
          "Days between two touches",
          settings.daysBetween,
          "Of one person, by anybody in the team.",
        )}
      </Box>
      <Typography variant="h3">A mailbox rests by itself</Typography>
      <Box sx={three}>
        {rest("bouncePercent", "When so many % bounce", "Large receivers bear about 3 to 5 %.")}
        {rest("complaintPercent", "or so many % are reported", "They publish 0.3 % as what they bear.")}
        {rest("windowDays", "of the last days")}
        {rest("fewestSent", "and at least so many were sent")}
        {rest("restDays", "for so many working days")}
        {rest("returnPercent", "and returns at % of its limit", "It rises again from there.")}
      </Box>
      {field(
        "blockZones",
        "Block-list zones of DNS",
        settings.blockZones.join(", "),
        "With commas between. The domain check asks them about your domains and servers (RFC 5782).",
      )}
      {field(
        "copyTo",
        "A blind copy of every email goes to",
        settings.copyTo,
        "For a tool that listens at an address. Nothing in the copy acts for the prospect. Each mailbox can have one of its own.",
      )}
      <Box>
        <FormControlLabel
          control={<Checkbox name="rampExchange" defaultChecked={settings.rampExchange} />}
          label="Young mailboxes write to each other"
        />
        <Typography variant="body2" color="textSecondary" sx={{ ml: 3.75 }}>
          A few mails a day between your own mailboxes, rising, in marked threads that never show among
          replies or results. Know that large providers' rules forbid mail that only makes a sender look busy,
          and that some look for it. A limit that rises slowly with real mail is the honest way; leave this
          off unless your own servers are all that takes part.
        </Typography>
      </Box>
    </Part>
  );
}
