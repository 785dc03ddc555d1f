/** Who is told what, and how: a small table, and the hours in which nothing comes. */

import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useController } from "react-hook-form";
import {
  NOTICE_KINDS,
  type NoticeKind,
  noticeSettingsSchema,
  type NoticeSettings as Settings,
} from "../../core/notices/notices";
import { ChoiceInput, TimeInput } from "../components/schema-fields";
import { type FormOf, useSchemaForm } from "../components/schema-form";
import { useAction } from "../components/use-action";
import { Part, type Said, three } from "./parts";

const WORDS: Record<NoticeKind, string> = {
  reply: "Somebody writes back",
  interested: "An answer that reads as interested",
  booking: "A call is booked, moved or cancelled",
  click: "Somebody clicks a link",
  watching: "Somebody watches your film, or reads your file",
  stage: "Somebody reaches another stage",
  task: "Touches of mine are due",
  mailbox: "A mailbox rests, or is in trouble",
  finished: "A sequence is through",
  connection: "A connection was switched off",
  week: "On Monday, what the week before brought",
};

export function NoticeSettings({ settings }: { settings: Settings }) {
  const part = useAction<Said>();
  const form = useSchemaForm(noticeSettingsSchema, settings, part.errors, (sent) =>
    part.press({ intent: "notices", form: JSON.stringify(sent) }),
  );
  const [denied, setDenied] = useState(false);
  /** The browser asks for permission itself, and only when somebody wants it. */
  async function isAllowed(): Promise<boolean> {
    const allowed = "Notification" in window && (await Notification.requestPermission()) === "granted";
    setDenied(!allowed);
    return allowed;
  }
  return (
    <Part
      title="What you are told"
      intent="notices"
      button="Save what I am told"
      of={part}
      onSubmit={form.onSubmit}
    >
      <Box
        component="table"
        sx={{
          borderCollapse: "collapse",
          "& td, & th": { textAlign: "left", py: 0.25, borderTop: "1px solid", borderColor: "divider" },
        }}
      >
        <thead>
          <tr>
            {["When", "In the app", "In the browser", "By mail"].map((words) => (
              <th key={words}>
                <Typography variant="body2" color="textSecondary">
                  {words}
                </Typography>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {NOTICE_KINDS.map((kind) => (
            <tr key={kind}>
              <td>
                <Typography>{WORDS[kind]}</Typography>
              </td>
              <td>
                <Ticked form={form} name={`ways.${kind}.app`} words={`${WORDS[kind]}: in the app`} />
              </td>
              <td>
                <Ticked
                  form={form}
                  name={`ways.${kind}.browser`}
                  words={`${WORDS[kind]}: in the browser`}
                  onAsk={isAllowed}
                />
              </td>
              <td>
                <ChoiceInput
                  in={form}
                  name={`ways.${kind}.mail`}
                  size="small"
                  slotProps={{ htmlInput: { "aria-label": `${WORDS[kind]}: by mail` } }}
                  sx={{ minWidth: 160 }}
                  options={[
                    ["no", "no"],
                    ["once", "at once"],
                    ["summary", "in the summary"],
                  ]}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
      {denied && (
        <Typography color="error">
          The browser does not allow it. Permit notifications for this address in its settings, then tick it
          again.
        </Typography>
      )}
      <Box sx={three}>
        <TimeInput in={form} name="summaryAt" label="The day's summary goes at" />
        <TimeInput in={form} name="quietFrom" label="Quiet from" />
        <TimeInput
          in={form}
          name="quietUntil"
          label="until"
          helperText="In your time zone. The same time twice: never quiet."
        />
      </Box>
    </Part>
  );
}

/** `onAsk`: whether it may be ticked. */
function Ticked(props: {
  form: FormOf<typeof noticeSettingsSchema>;
  name: `ways.${NoticeKind}.${"app" | "browser"}`;
  words: string;
  onAsk?: () => Promise<boolean>;
}) {
  const { field } = useController({ control: props.form.control, name: props.name });
  async function change(wanted: boolean): Promise<void> {
    if (!wanted || !props.onAsk || (await props.onAsk())) field.onChange(wanted);
  }
  return (
    <Checkbox
      size="small"
      checked={field.value}
      onChange={({ target }) => void change(target.checked)}
      slotProps={{ input: { "aria-label": props.words } }}
    />
  );
}
