/** One email to this prospect: now, at a time, or at their best hour, with a follow-up by choice. */
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useController } from "react-hook-form";
import { oneEmailSchema } from "../../core/sequence/one-email";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields";
import { SchemaDialog } from "../components/dialogs";
import { ChoiceInput, NumberInput, TextInput } from "../components/schema-fields";
import { type FormOf, useSchemaForm } from "../components/schema-form";
import { Tick } from "../components/tick";
import { useAction } from "../components/use-action";
import { RichText } from "../sequences/text/rich-text";

const FIELDS = [...PROSPECT_FIELDS, ...SENDER_FIELDS];

type Form = FormOf<typeof oneEmailSchema>;

export function OneEmailDialog(props: {
  prospectId: number;
  name: string;
  zone: string | null;
  samples: Record<string, string>;
  onClose: () => void;
}) {
  const act = useAction({}, props.onClose);
  const form = useSchemaForm(
    oneEmailSchema,
    {
      prospectId: props.prospectId,
      subject: "",
      body: 'Hello {{ first_name | default: "there" }},\n\n',
      when: "now",
      followUp: null,
      remindAfter: null,
    },
    act.errors,
    (email) => act.press({ intent: "write_one", form: JSON.stringify(email) }),
  );
  const { when, followUp, remindAfter } = form.watch();
  return (
    <SchemaDialog
      title={`Write to ${props.name}`}
      keep="Not now"
      act={when === "now" ? "Send it" : "Plan it"}
      width="md"
      onSubmit={form.onSubmit}
      errors={act.errors}
      isBusy={act.isBusy}
      onClose={props.onClose}
    >
      <TextInput in={form} name="subject" label="Subject" />
      <Letter form={form} samples={props.samples} />
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <ChoiceInput
          in={form}
          name="when"
          label="It leaves"
          sx={{ width: 240 }}
          options={[
            ["now", "now, in its turn"],
            ["best", "tomorrow, at their best hour"],
            ["at", "at a time"],
          ]}
        />
        {when === "at" && (
          <>
            <TextInput in={form} name="date" type="date" label="Day" {...SHRUNK} sx={{ width: 170 }} />
            <TextInput
              in={form}
              name="time"
              type="time"
              label={`Time, ${props.zone ? "their time" : "your time"}`}
              {...SHRUNK}
              sx={{ width: 150 }}
            />
          </>
        )}
      </Box>
      <Tick
        label="A follow-up, in the same thread"
        checked={followUp !== null}
        onChange={(isChecked) =>
          form.setValue("followUp", isChecked ? { days: 4, body: "", unless: "answered" } : null)
        }
      />
      {followUp && <FollowUpFields form={form} />}
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Tick
          label="Remind me on Today if nothing comes back"
          checked={remindAfter !== null}
          onChange={(isChecked) => form.setValue("remindAfter", isChecked ? 5 : null)}
        />
        {remindAfter !== null && (
          <NumberInput
            in={form}
            name="remindAfter"
            label="After working days"
            least={1}
            most={90}
            sx={{ width: 170 }}
          />
        )}
      </Box>
    </SchemaDialog>
  );
}

const SHRUNK = { slotProps: { inputLabel: { shrink: true } } };

function Letter({ form, samples }: { form: Form; samples: Record<string, string> }) {
  const { field, fieldState } = useController({ control: form.control, name: "body" });
  const wrong = fieldState.error?.message;
  return (
    <Box>
      <Box
        sx={{
          border: "1px solid",
          borderColor: wrong ? "error.main" : "divider",
          borderRadius: 1,
          px: 1.75,
          py: 1.25,
        }}
      >
        <RichText
          label="Text"
          value={field.value}
          onChange={field.onChange}
          fields={FIELDS}
          samples={samples}
          invalid={wrong !== undefined}
        />
      </Box>
      <Typography variant="caption" color="error">
        {wrong}
      </Typography>
    </Box>
  );
}

function FollowUpFields({ form }: { form: Form }) {
  return (
    <Box sx={{ display: "grid", gap: 1.25, pl: 3.75 }}>
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <NumberInput
          in={form}
          name="followUp.days"
          label="After working days"
          least={1}
          most={60}
          sx={{ width: 170 }}
        />
        <ChoiceInput
          in={form}
          name="followUp.unless"
          label="If they"
          sx={{ width: 260 }}
          options={[
            ["answered", "have not answered"],
            ["opened", "have not opened it"],
          ]}
        />
      </Box>
      <TextInput
        in={form}
        name="followUp.body"
        label="Its text"
        multiline
        minRows={3}
        sx={{ "& textarea": { typography: "letter" } }}
      />
    </Box>
  );
}
