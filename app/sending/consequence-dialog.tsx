/** Says what pausing or removing a mailbox, or another limit, moves and makes late, before it is done. */

import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import type { OpenedMailbox } from "../../server/sending/mailboxes/open-mailbox";
import { Confirm } from "../components/dialogs";
import { Refusal } from "../components/refusal";
import { useAction, useQuestion } from "../components/use-action";
import { count } from "../components/words";
import type { Answer } from "./mailbox-answer";
import { comparisonWords } from "./outlook-words";

/** What somebody is about to do; `form`: what is sent once they say yes. */
export interface Planned {
  change: "pause" | "remove" | "limit";
  form: FormData;
}

const TITLES = { pause: "Pause", remove: "Remove", limit: "Change the limit of" } as const;
const YES = { pause: "Pause it", remove: "Remove it for good", limit: "Save the new limit" } as const;

export function ConsequenceDialog(props: {
  mailbox: OpenedMailbox;
  planned: Planned;
  zone: string;
  onClose: () => void;
  onDone: (answer: Answer) => void;
}) {
  const { mailbox, planned, zone, onClose, onDone } = props;
  const { ask, value } = useQuestion<Answer>();
  const act = useAction<Answer>({}, (answer) => {
    onDone(answer ?? {});
    onClose();
  });
  useEffect(() => {
    const asked = new FormData();
    asked.set("intent", "consequence");
    asked.set("change", planned.change);
    asked.set("dailyLimit", String(planned.form.get("dailyLimit") ?? ""));
    ask(asked);
  }, [planned, ask]);
  const known = value?.consequence;
  return (
    <Confirm
      title={`${TITLES[planned.change]} ${mailbox.address}?`}
      keep="Leave it as it is"
      act={YES[planned.change]}
      isDanger={planned.change === "remove"}
      isWaiting={!known || act.isBusy}
      onClose={onClose}
      onAct={() => act.press(planned.form)}
    >
      <Refusal errors={act.errors} />
      {!known && <Typography>Planning without it …</Typography>}
      {known && (
        <>
          {planned.change !== "limit" && (
            <Typography sx={{ mb: 1.5 }}>
              {count(known.planned, "email")} {known.planned === 1 ? "was" : "were"} to leave it today and on
              the next working day. {count(known.threads, "person has", "people have")} a thread here: their
              follow-ups wait
              {planned.change === "pause" ? " until you let it send again" : " for good"}, unless their
              sequence goes on from another mailbox.
            </Typography>
          )}
          <Typography>{comparisonWords(known.before, known.after, zone)}</Typography>
          <Typography color="textSecondary" sx={{ mt: 1.5 }}>
            {planned.change === "pause" && "It is still read, so answers keep stopping follow-ups."}
            {planned.change === "remove" &&
              "It is no longer read either. What it sent stays in the history; add its address again to have it back."}
          </Typography>
        </>
      )}
    </Confirm>
  );
}
