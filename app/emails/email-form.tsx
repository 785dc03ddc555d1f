/** One email as it is written or changed: the letter, when it leaves, what follows, and from where. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useController } from "react-hook-form";
import type { oneEmailSchema } from "../../core/sequence/one-email";
import type { WhenContext } from "../../core/sequence/read-when";
import type { EmailPage } from "../../server/sequences/email-page";
import { PlainSelect } from "../components/plain-select";
import { NumberInput, TextInput } from "../components/schema-fields";
import type { FormOf } from "../components/schema-form";
import { Tick } from "../components/tick";
import { Files } from "../sequences/email/attachments";
import { FollowUps } from "./follow-ups";
import { LetterField } from "./letter-field";
import { WhenField } from "./when-field";

export function EmailForm(props: {
  form: FormOf<typeof oneEmailSchema>;
  page: EmailPage;
  gone: readonly string[];
  fileNames: Record<number, string>;
  /** Pages for prospects that it can lead to. */
  pages: readonly { id: number; name: string }[];
  /** What was typed of when it leaves. */
  said: string;
  onSaid: (said: string) => void;
  /** Whose action is asked for a series. */
  to: string;
}) {
  const { form, page, gone, said, onSaid } = props;
  const { control, setValue } = form;
  const body = useController({ control, name: "body" });
  const files = useController({ control, name: "attachments" });
  const links = useController({ control, name: "linksFiles" });
  const [date, remindAfter, mailboxId, pageId] = form.watch(["date", "remindAfter", "mailboxId", "pageId"]);
  const hasGone = gone.includes("one");
  const context: WhenContext = { now: page.now, own: page.zone, theirs: page.person.zone };
  return (
    <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "minmax(0, 1fr)" }}>
      {hasGone ? (
        <Alert severity="info" icon={false}>
          The email has gone; what follows it can still be changed.
        </Alert>
      ) : (
        <>
          <WhenField
            said={said}
            context={context}
            problem={form.formState.errors.date?.message}
            onRead={(text, read) => {
              onSaid(text);
              const isAt = read !== null && "when" in read && read.when === "at";
              setValue("when", read !== null && "when" in read ? read.when : "at", {
                shouldValidate: form.formState.isSubmitted,
              });
              setValue("date", isAt ? read.date : undefined);
              setValue("time", isAt ? read.time : undefined);
            }}
          />
          <TextInput in={form} name="subject" label="Subject" sx={{ "& input": { typography: "letter" } }} />
          <LetterField
            label="Text"
            value={body.field.value ?? ""}
            samples={page.samples}
            problem={body.fieldState.error?.message}
            onChange={body.field.onChange}
            onDraft={({ subject, text }) => {
              body.field.onChange(text);
              if (form.getValues("subject") === "") setValue("subject", subject);
            }}
          />
          <Files
            ids={(files.field.value ?? []) as number[]}
            fileNames={props.fileNames}
            onChange={files.field.onChange}
            links={{ isOn: links.field.value === true, onChange: links.field.onChange }}
          />
        </>
      )}
      <FollowUps form={form} gone={gone} series={page.series} samples={page.samples} to={props.to} />
      <Box sx={{ display: "flex", gap: 1.25, alignItems: "center", flexWrap: "wrap" }}>
        <Tick
          label="Remind me on Today if nothing comes back"
          checked={remindAfter !== null}
          onChange={(isChecked) => setValue("remindAfter", isChecked ? 5 : null)}
        />
        {remindAfter !== null && (
          <NumberInput
            in={form}
            name="remindAfter"
            label="After working days"
            least={1}
            most={90}
            sx={{ width: 150 }}
          />
        )}
      </Box>
      {props.pages.length > 0 && (
        <PlainSelect
          label="Their page: “page link” and “page picture” lead there"
          value={String(pageId ?? "")}
          onChange={(chosen) =>
            setValue("pageId", chosen === "" ? null : Number(chosen), { shouldDirty: true })
          }
          options={[["", "none"], ...props.pages.map(({ id, name }) => [String(id), name] as const)]}
          sx={{ maxWidth: 420 }}
        />
      )}
      {!hasGone && page.mailboxes.length > 1 && (
        <PlainSelect
          label="From"
          value={String(mailboxId ?? "")}
          onChange={(chosen) =>
            setValue("mailboxId", chosen === "" ? null : Number(chosen), { shouldDirty: true })
          }
          options={[
            ["", "whichever of your mailboxes has its turn"],
            ...page.mailboxes.map(({ id, address }) => [String(id), address] as const),
          ]}
          sx={{ maxWidth: 420 }}
        />
      )}
      {date === undefined && form.formState.errors.when && (
        <Typography color="error">{form.formState.errors.when.message}</Typography>
      )}
    </Box>
  );
}
