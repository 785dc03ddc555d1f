/** The answer to a reply: written below it, sent once however often it is pressed. */
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { Field } from "../components/field";
import { forgetDraft, useKeptDraft } from "./kept-draft";

/** What the page's action says to an answer: its key once it is queued, or what is wrong with it. */
export interface Answered {
  errors?: Record<string, string>;
  answered?: string;
}

const newKey = () => crypto.randomUUID();

export function AnswerForm(props: {
  replyId: number;
  prospectId: number;
  mailbox: string;
  name: string;
  answerTo: string;
  /** They answered from another address than theirs. */
  isElsewhere: boolean;
  isBlocked: boolean;
  /** What was typed here before. */
  draft: string;
  field: React.RefObject<HTMLTextAreaElement | null>;
}) {
  const fetcher = useFetcher<Answered>();
  const [key, setKey] = useState("");
  const [text, setText] = useKeptDraft(props.replyId, props.draft);
  const answered = fetcher.data?.answered;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text is cleared once for each answer.
  useEffect(() => {
    // A fresh key for the next answer; the one just given is spent.
    setKey(newKey());
    if (!answered) return;
    setText("");
    forgetDraft(props.replyId);
  }, [answered, props.replyId]);
  const errors = fetcher.data?.errors;
  return (
    <Box component={fetcher.Form} method="post" sx={{ mt: 2, display: "grid", gap: 1.25 }}>
      {errors?.form && <Alert severity="error">{errors.form}</Alert>}
      <input type="hidden" name="replyId" value={props.replyId} />
      <input type="hidden" name="prospectId" value={props.prospectId} />
      <input type="hidden" name="key" value={key} />
      <Field
        name="text"
        label={`Answer ${props.name.split(" ")[0]}`}
        multiline
        minRows={3}
        value={text}
        onChange={(event) => setText(event.target.value)}
        inputRef={props.field}
        errors={errors}
        helperText={`Goes from ${props.mailbox}${props.isElsewhere ? ` to ${props.answerTo}, where this came from` : ""}, in the same thread, with your signature.`}
        sx={{ "& textarea": { typography: "letter" } }}
      />
      <Box sx={{ display: "flex", gap: 1.25 }}>
        <Button
          type="submit"
          variant="contained"
          name="intent"
          value="answer"
          disabled={fetcher.state !== "idle"}
        >
          Send the answer
        </Button>
        {!props.isBlocked && (
          <Button type="submit" name="intent" value="opt-out" disabled={fetcher.state !== "idle"}>
            They want no more email
          </Button>
        )}
      </Box>
    </Box>
  );
}
