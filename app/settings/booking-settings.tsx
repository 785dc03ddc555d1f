/** Booking pages: of each its address, what it offers, what it asks, and who takes its calls. */
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useFieldArray } from "react-hook-form";
import { bookingPageSchema, LENGTHS, MOST_QUESTIONS } from "../../core/meetings/booking-rules";
import type { Mate, OwnPage } from "../../server/meetings/booking-pages";
import { Refusal } from "../components/refusal";
import { ChoiceInput, SeveralInput, TextInput, TimeInput } from "../components/schema-fields";
import { type FormOf, useSchemaForm } from "../components/schema-form";
import { useAction } from "../components/use-action";
import { SHORT_WEEKDAYS } from "../components/words";
import { Part, type Said, three, two } from "./parts";

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
  const remove = useAction<Said>();
  const id = page?.id ?? "";
  const hostIds = page?.hostIds ?? [mates[0]?.id ?? 0];
  const form = useSchemaForm(
    bookingPageSchema,
    { name: page?.name ?? "", hostIds, ...(page?.rules ?? NEW_PAGE), ...(!page && { slug: "" }) },
    part.errors,
    (sent) => part.press({ intent: "booking", id, form: JSON.stringify(sent) }),
  );
  return (
    <Box>
      <Part
        title={page ? page.name : "A new booking page"}
        intent="booking"
        button={page ? "Save this page" : "Make the page"}
        of={part}
        onSubmit={form.onSubmit}
      >
        <Box sx={two}>
          <TextInput in={form} name="name" label="Its name" />
          {!page && (
            <TextInput in={form} name="slug" label="Last part of its address" helperText={`${url}/…`} />
          )}
        </Box>
        {page && <CopyLink link={`${url}/${page.slug}`} isMain={page.isMain} />}
        <TextInput in={form} name="about" label="What visitors read above the times" multiline />
        {mates.length > 1 && (
          <SeveralInput
            in={form}
            name="hostIds"
            label="Who takes the calls; of several, whoever has the fewest"
            options={mates
              .filter(({ id, mayHost }) => mayHost || hostIds.includes(id))
              .map(({ id, name }) => [id, name])}
          />
        )}
        <SeveralInput
          in={form}
          name="days"
          label={`Days on which calls can be, in ${zone.replaceAll("_", " ")}`}
          options={SHORT_WEEKDAYS.map((day, index) => [index + 1, day])}
        />
        <Box sx={two}>
          <TimeInput in={form} name="opens" label="From" />
          <TimeInput in={form} name="closes" label="Until" />
        </Box>
        <SeveralInput
          in={form}
          name="lengths"
          label="How long a call may take; with several, the visitor chooses"
          options={LENGTHS.map((minutes) => [minutes, `${minutes} min`])}
        />
        <Limits form={form} />
        <Questions form={form} />
      </Part>
      {page && !page.isMain && (
        <Button
          size="small"
          sx={{ mt: 3 }}
          disabled={remove.isBusy}
          onClick={() => remove.press({ intent: "remove-page", id })}
        >
          Take this page away
        </Button>
      )}
      <Refusal errors={remove.errors} />
    </Box>
  );
}

type Form = FormOf<typeof bookingPageSchema>;

function Limits({ form }: { form: Form }) {
  return (
    <>
      <Box sx={three}>
        <TextInput in={form} name="buffer" label="Free minutes around each" />
        <TextInput in={form} name="notice" label="Hours of notice" />
        <TextInput in={form} name="daysAhead" label="Days ahead" />
        <TextInput in={form} name="mostADay" label="Calls a day at most" helperText="0 for as many as fit." />
        <TextInput
          in={form}
          name="remindHours"
          label="Reminded before, hours"
          helperText="0 for no reminder."
        />
        <ChoiceInput
          in={form}
          name="where"
          label="Where"
          options={[
            ["phone", "I call them; the page asks for the number"],
            ["place", "We meet in one place, or at one link"],
          ]}
        />
      </Box>
      {form.watch("where") === "place" && (
        <TextInput in={form} name="place" label="The place, or the link of the video room" />
      )}
    </>
  );
}

function Questions({ form }: { form: Form }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "questions" });
  return (
    <>
      {fields.map(({ id }, index) => (
        <Box key={id} sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <TextInput
            in={form}
            name={`questions.${index}.text`}
            label={`Question ${index + 1}`}
            sx={{ flex: 1 }}
          />
          <Button
            onClick={() =>
              form.setValue(`questions.${index}.required`, !form.getValues(`questions.${index}.required`))
            }
          >
            {form.watch(`questions.${index}.required`) ? "Must be answered" : "If they like"}
          </Button>
          <Button onClick={() => remove(index)}>Leave out</Button>
        </Box>
      ))}
      {fields.length < MOST_QUESTIONS && (
        <Box>
          <Button size="small" onClick={() => append({ text: "", required: false })}>
            Ask something
          </Button>
        </Box>
      )}
    </>
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
