/** Who is told what, and how: a small table, and the hours in which nothing comes. */

import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import {
  NOTICE_KINDS,
  type NoticeKind,
  type NoticeSettings as Settings,
  type Way,
} from "../../core/notices/notices";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { useAction } from "../components/use-action";
import { Part, type Said, three } from "./parts";

const WORDS: Record<NoticeKind, string> = {
  reply: "Somebody writes back",
  interested: "An answer that reads as interested",
  booking: "A call is booked, moved or cancelled",
  click: "Somebody clicks a link",
  stage: "Somebody reaches another stage",
  task: "Touches of mine are due",
  mailbox: "A mailbox rests, or is in trouble",
  finished: "A sequence is through",
};

export function NoticeSettings({ settings }: { settings: Settings }) {
  const part = useAction<Said>();
  const [ways, setWays] = useState(settings.ways);
  const [denied, setDenied] = useState(false);
  const set = (kind: NoticeKind, change: Partial<Way>) =>
    setWays({ ...ways, [kind]: { ...ways[kind], ...change } });
  async function setBrowser(kind: NoticeKind, wanted: boolean): Promise<void> {
    // The browser asks for permission itself, and only when somebody wants it.
    if (wanted && (!("Notification" in window) || (await Notification.requestPermission()) !== "granted")) {
      setDenied(true);
      return;
    }
    setDenied(false);
    set(kind, { browser: wanted });
  }
  return (
    <Part title="What you are told" intent="notices" button="Save what I am told" of={part}>
      <input type="hidden" name="ways" value={JSON.stringify(ways)} />
      <Box
        component="table"
        sx={{
          borderCollapse: "collapse",
          "& td, & th": { textAlign: "left", py: 0.25, borderTop: "1px solid", borderColor: "divider" },
        }}
      >
        <thead>
          <tr>
            <th>
              <Typography variant="body2" color="textSecondary">
                When
              </Typography>
            </th>
            <th>
              <Typography variant="body2" color="textSecondary">
                In the app
              </Typography>
            </th>
            <th>
              <Typography variant="body2" color="textSecondary">
                In the browser
              </Typography>
            </th>
            <th>
              <Typography variant="body2" color="textSecondary">
                By mail
              </Typography>
            </th>
          </tr>
        </thead>
        <tbody>
          {NOTICE_KINDS.map((kind) => (
            <tr key={kind}>
              <td>
                <Typography>{WORDS[kind]}</Typography>
              </td>
              <td>
                <Checkbox
                  size="small"
                  checked={ways[kind].app}
                  onChange={({ target }) => set(kind, { app: target.checked })}
                  slotProps={{ input: { "aria-label": `${WORDS[kind]}: in the app` } }}
                />
              </td>
              <td>
                <Checkbox
                  size="small"
                  checked={ways[kind].browser}
                  onChange={({ target }) => void setBrowser(kind, target.checked)}
                  slotProps={{ input: { "aria-label": `${WORDS[kind]}: in the browser` } }}
                />
              </td>
              <td>
                <Choice
                  size="small"
                  value={ways[kind].mail}
                  onChange={(chosen) => set(kind, { mail: chosen as Way["mail"] })}
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
        <Field
          errors={part.errors}
          name="summaryAt"
          label="The day's summary goes at"
          type="time"
          defaultValue={settings.summaryAt}
        />
        <Field
          errors={part.errors}
          name="quietFrom"
          label="Quiet from"
          type="time"
          defaultValue={settings.quietFrom}
        />
        <Field
          errors={part.errors}
          name="quietUntil"
          label="until"
          type="time"
          defaultValue={settings.quietUntil}
          helperText="In your time zone. The same time twice: never quiet."
        />
      </Box>
    </Part>
  );
}
