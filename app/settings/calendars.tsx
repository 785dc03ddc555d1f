/** The calendars whose events are no time to book, and the one that gives our calls out. */

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { CalendarRow } from "../../server/meetings/calendars";
import { Field } from "../components/field";
import { FileButton } from "../components/file-button";
import { Refusal } from "../components/refusal";
import { Row } from "../components/row";
import { useAction } from "../components/use-action";
import { count, dayTime } from "../components/words";
import { Part, type Said, two } from "./parts";

export function Calendars({
  calendars,
  feed,
  touches,
  zone,
}: {
  calendars: CalendarRow[];
  feed: string;
  touches: string;
  zone: string;
}) {
  const part = useAction<Said>();
  const remove = useAction<Said>();
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  return (
    <>
      <Part
        title="Busy times from your calendars"
        intent="add-calendar"
        button="Read this calendar"
        of={part}
      >
        {calendars.map((calendar) => (
          <Row key={calendar.id} sx={{ gap: 2, alignItems: "center", py: 1 }}>
            <Box sx={{ flex: 1, minWidth: 0 }}>
              <Typography sx={{ fontWeight: 600 }}>{calendar.name}</Typography>
              <Typography
                variant="body2"
                color={calendar.trouble ? "error" : "textSecondary"}
                sx={{ overflowWrap: "anywhere" }}
              >
                {calendar.trouble ??
                  `${count(calendar.events, "event")}, read ${calendar.readAt === null ? "soon" : dayTime(calendar.readAt, zone)}`}
              </Typography>
            </Box>
            <Button
              type="button"
              size="small"
              onClick={() => remove.press({ intent: "remove-calendar", id: String(calendar.id) })}
            >
              Take it off
            </Button>
          </Row>
        ))}
        <Refusal errors={remove.errors} />
        <Box sx={two}>
          <Field errors={part.errors} name="name" label="Name" />
          <Field
            errors={part.errors}
            name="url"
            label="Its address (iCalendar)"
            placeholder="https://…/basic.ics"
            helperText="Read every ten minutes. Only when you are busy is kept, nothing of what it says."
          />
        </Box>
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <FileButton
            label="Or choose a file (.ics)"
            button={{ size: "small" }}
            accept=".ics,text/calendar"
            onFile={(chosen) => void chosen.text().then((text) => setFile({ name: chosen.name, text }))}
          />
          <Typography variant="body2">{file?.name ?? ""}</Typography>
          <input type="hidden" name="file" value={file?.text ?? ""} />
        </Box>
      </Part>
      <Box>
        <Typography variant="h2" sx={{ mb: 1.5 }}>
          Your calls in your own calendar
        </Typography>
        <TextField
          fullWidth
          label="Subscribe to this address; whoever has it can read your calls"
          value={feed}
          slotProps={{ htmlInput: { readOnly: true } }}
        />
        <TextField
          fullWidth
          sx={{ mt: 1.75 }}
          label="And to this one for what you do yourself: calls, social touches, errands, emails to read"
          value={touches}
          slotProps={{ htmlInput: { readOnly: true } }}
        />
      </Box>
    </>
  );
}
