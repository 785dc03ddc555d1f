import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import type { AssistantSettings as Assistant } from "../../server/assistant/ask";
import { Choice } from "../components/choice";
import { Field } from "../components/field";
import { useAction } from "../components/use-action";
import { Part, type Said, two } from "./parts";

/** Where the writing assistant is: our own small API, or any service that speaks the common chat API. */
export function AssistantSettings({ assistant, isManager }: { assistant: Assistant; isManager: boolean }) {
  const part = useAction<Said>();
  const { errors } = part;
  return (
    <Part
      title="Writing assistant"
      intent="assistant"
      button="Save the assistant"
      of={part}
      disabled={!isManager}
    >
      <Typography variant="body2" color="textSecondary">
        It drafts for a rep to read; nothing of it goes out by itself. What is in a brief or a text is sent
        there.
      </Typography>
      <Box sx={two}>
        <Field
          errors={errors}
          name="url"
          label="Address"
          defaultValue={assistant.url}
          placeholder="https://…/v1"
          helperText="Empty: the one the installation was started with, if any."
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Choice
          errors={errors}
          name="api"
          label="Speaks"
          defaultValue={assistant.api}
          options={[
            ["own", "Saudade’s own API"],
            ["chat", "chat completions"],
          ]}
        />
        <Field errors={errors} name="model" label="Model" defaultValue={assistant.model} />
        <Field
          errors={errors}
          name="key"
          type="password"
          label="Key"
          autoComplete="off"
          helperText={assistant.hasKey ? "One is stored; type another to change it." : "None is stored."}
        />
      </Box>
      <FormControlLabel
        control={
          <Checkbox size="small" name="readsReplies" value="on" defaultChecked={assistant.readsReplies} />
        }
        label="Let it read replies that the sorting here is unsure of: their text is sent there"
        slotProps={{ typography: { variant: "body2" } }}
      />
    </Part>
  );
}
