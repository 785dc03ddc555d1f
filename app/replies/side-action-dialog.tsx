import { useState } from "react";
import { Choice } from "../components/choice";
import { FormDialog } from "../components/dialogs";
import { Field } from "../components/field";
import { DayField } from "../components/moment-fields";
import type { SideAction } from "./side-actions";

const TITLES: Record<SideAction, string> = {
  "hand-over": "Hand this conversation over",
  note: "A note about them",
  remind: "A reminder for you",
};
const ACTS: Record<SideAction, string> = {
  "hand-over": "Hand over",
  note: "Keep the note",
  remind: "Remind me",
};

export function SideActionDialog(props: {
  action: SideAction;
  replyId: number;
  prospectId: number;
  mates: { id: number; name: string }[];
  onClose: () => void;
}) {
  const { action, replyId, prospectId, mates, onClose } = props;
  const [to, setTo] = useState("");
  return (
    <FormDialog title={TITLES[action]} keep="Leave it" act={ACTS[action]} intent={action} onClose={onClose}>
      {(errors) => (
        <>
          <input type="hidden" name="replyId" value={replyId} />
          <input type="hidden" name="prospectId" value={prospectId} />
          {action === "hand-over" && (
            <>
              <Choice
                name={to === "mail" ? "who" : "to"}
                label="To"
                value={to}
                onChange={(chosen) => setTo(chosen)}
                errors={errors}
                options={[
                  ...mates.map(({ id, name }) => [String(id), `${name}, who finds it on Today`] as const),
                  ["mail", "Somebody else, by mail"],
                ]}
              />
              {to === "mail" && <Field name="to" label="Their address" errors={errors} autoFocus />}
              <Field
                name="note"
                label="What they should know"
                multiline
                minRows={2}
                errors={errors}
                helperText="The story so far goes with it."
              />
            </>
          )}
          {action === "note" && (
            <Field name="text" label="Note" multiline minRows={3} errors={errors} autoFocus />
          )}
          {action === "remind" && (
            <>
              <Field
                name="text"
                label="What about"
                defaultValue="See whether they answered."
                errors={errors}
                autoFocus
              />
              <DayField name="day" label="On" errors={errors} />
            </>
          )}
        </>
      )}
    </FormDialog>
  );
}
