/** What comes behind an email, each if nothing came back: written here, or taken over from a sequence or the shelf. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Typography from "@mui/material/Typography";
import { useEffect, useEffectEvent } from "react";
import { useController, useFieldArray } from "react-hook-form";
import type { FollowUp, oneEmailSchema } from "../../core/sequence/one-email";
import type { EmailPage } from "../../server/sequences/email-page";
import { PlainSelect } from "../components/plain-select";
import { Refusal } from "../components/refusal";
import { ChoiceInput, NumberInput, TextInput } from "../components/schema-fields";
import type { FormOf } from "../components/schema-form";
import { useQuestion } from "../components/use-action";
import { count } from "../components/words";
import { broughtAside } from "../results/words";
import { LetterField } from "./letter-field";

export function FollowUps(props: {
  form: FormOf<typeof oneEmailSchema>;
  gone: readonly string[];
  series: EmailPage["series"];
  samples: Record<string, string>;
  to: string;
}) {
  const { form, gone, series, samples, to } = props;
  const { fields, append, remove } = useFieldArray({
    control: form.control,
    name: "followUps",
    keyName: "key",
  });
  const asked = useQuestion<FollowUp[]>({ to, as: "json" });
  const take = useEffectEvent((followUps: FollowUp[]) => {
    for (const followUp of followUps) append({ ...followUp, id: freeId(form.getValues("followUps") ?? []) });
  });
  useEffect(() => {
    if (asked.value) take(asked.value);
  }, [asked.value]);
  return (
    <Box component="section" aria-label="Follow-ups" sx={{ display: "grid", gap: 1.5 }}>
      {fields.map(({ key, id }, index) => (
        <Paper key={key} variant="outlined" sx={{ p: 2, display: "grid", gap: 1.25 }}>
          <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "flex-start" }}>
            <Typography variant="h3" sx={{ flex: "1 1 120px", pt: 1.1 }}>
              Follow-up {index + 1}
              {id && gone.includes(id) && (
                <Typography component="span" color="textSecondary">
                  {" "}
                  has gone
                </Typography>
              )}
            </Typography>
            <NumberInput
              in={form}
              name={`followUps.${index}.days`}
              label="After working days"
              least={1}
              most={60}
              sx={{ width: 150 }}
            />
            <ChoiceInput
              in={form}
              name={`followUps.${index}.unless`}
              label="If they"
              sx={{ width: 190 }}
              options={[
                ["answered", "have not answered"],
                ["opened", "have not opened it"],
              ]}
            />
            <Button
              type="button"
              size="small"
              disabled={id !== undefined && gone.includes(id)}
              onClick={() => remove(index)}
              sx={{ height: 38 }}
            >
              Take it off
            </Button>
          </Box>
          <TextInput
            in={form}
            name={`followUps.${index}.subject`}
            label="Subject"
            helperText="Leave it empty to go in the same thread."
          />
          <FollowUpLetter form={form} index={index} samples={samples} />
        </Paper>
      ))}
      <Refusal errors={asked.errors} />
      <Box sx={{ display: "flex", gap: 1.25, flexWrap: "wrap", alignItems: "center" }}>
        <Button
          type="button"
          onClick={() =>
            append({
              id: freeId(form.getValues("followUps") ?? []),
              days: 4,
              subject: "",
              body: "",
              unless: "answered",
            })
          }
        >
          Add a follow-up
        </Button>
        {series.length > 0 && (
          <PlainSelect
            aria-label="Follow-ups from"
            value=""
            onChange={(key) => key !== "" && asked.ask({ intent: "series", series: key })}
            options={[
              ["", "Take a series over from …"],
              ...series.map(
                ({ key, name, emails, brought }) =>
                  [key, `${name} (${count(emails, "email")})${broughtAside(brought)}`] as const,
              ),
            ]}
            sx={{ width: 260 }}
          />
        )}
      </Box>
    </Box>
  );
}

function freeId(taken: readonly { id?: string | undefined }[]): string {
  const ids = new Set(taken.map(({ id }) => id));
  let nth = 1;
  while (ids.has(`f${nth}`)) nth++;
  return `f${nth}`;
}

function FollowUpLetter({
  form,
  index,
  samples,
}: {
  form: FormOf<typeof oneEmailSchema>;
  index: number;
  samples: Record<string, string>;
}) {
  const { field, fieldState } = useController({ control: form.control, name: `followUps.${index}.body` });
  return (
    <LetterField
      label={`Text of follow-up ${index + 1}`}
      value={field.value ?? ""}
      samples={samples}
      problem={fieldState.error?.message}
      minHeight={70}
      onChange={field.onChange}
      onDraft={({ text }) => field.onChange(text)}
    />
  );
}
