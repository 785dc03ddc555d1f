import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useRef } from "react";
import type { Step, StepProblem } from "../../core/sequence/steps";
import { PROSPECT_FIELDS, SENDER_FIELDS } from "../../core/writing/fields";

/** Fields offered first; the list's own follow. */
const SHOWN_FIELDS = 9;

export function StepEditor(props: {
  step: Step;
  isFirst: boolean;
  fields: readonly string[];
  problems: StepProblem[];
  onChange: (step: Step) => void;
}) {
  const { step, isFirst, fields, problems, onChange } = props;
  const body = useRef<HTMLTextAreaElement>(null);
  const problem = (field: StepProblem["field"]) =>
    problems
      .filter((each) => each.field === field)
      .map(({ message }) => message)
      .join(" ");
  const common: readonly string[] = [...PROSPECT_FIELDS, ...SENDER_FIELDS];
  const own = fields.filter((field) => !common.includes(field));
  const offered = ["first_name", "company", "title", "city", "booking_link", ...own].slice(0, SHOWN_FIELDS);

  function insert(field: string): void {
    const at = body.current?.selectionStart ?? step.body.length;
    const text = field === "first_name" ? '{{ first_name | default: "there" }}' : `{{ ${field} }}`;
    onChange({ ...step, body: step.body.slice(0, at) + text + step.body.slice(at) });
    requestAnimationFrame(() => {
      body.current?.focus();
      body.current?.setSelectionRange(at + text.length, at + text.length);
    });
  }

  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      <Box sx={{ display: "flex", gap: 2 }}>
        <TextField
          label="Name of the step"
          value={step.name}
          onChange={(event) => onChange({ ...step, name: event.target.value })}
        />
        <TextField
          label={isFirst ? "Working days after the start" : "Working days after the step before"}
          type="number"
          value={step.waitDays}
          onChange={(event) =>
            onChange({ ...step, waitDays: Math.max(0, Math.min(60, Number(event.target.value) || 0)) })
          }
          error={problem("waitDays") !== ""}
          helperText={problem("waitDays")}
          sx={{ maxWidth: 250 }}
        />
      </Box>
      <TextField
        name="subject"
        label="Subject"
        value={step.subject}
        onChange={(event) => onChange({ ...step, subject: event.target.value })}
        error={problem("subject") !== ""}
        helperText={problem("subject") || (isFirst ? undefined : "Leave it empty to go in the same thread.")}
        sx={{ "& input": { typography: "letter" } }}
      />
      <TextField
        name="body"
        label="Text"
        multiline
        minRows={7}
        maxRows={18}
        inputRef={body}
        value={step.body}
        onChange={(event) => onChange({ ...step, body: event.target.value })}
        error={problem("body") !== ""}
        helperText={
          problem("body") ||
          "**bold**, *emphasis*, [a link](https://…). The signature and a line to opt out are added."
        }
        sx={{ "& textarea": { typography: "letter" } }}
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, alignItems: "center" }}>
        <Typography variant="body2" color="textSecondary">
          Put in:
        </Typography>
        {offered.map((field) => (
          <Button
            key={field}
            size="small"
            onClick={() => insert(field)}
            sx={{ py: 0, fontSize: 12.5, bgcolor: "tile.wash", borderColor: "tile.wash", color: "tile.deep" }}
          >
            {field}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
