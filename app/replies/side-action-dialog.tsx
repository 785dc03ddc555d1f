import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import MenuItem from "@mui/material/MenuItem";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { Field } from "../components/field";
import type { Answered } from "./answer-form";
import type { SideAction } from "./side-actions";

const TITLES: Record<SideAction, string> = {
  "hand-over": "Hand this conversation over",
  note: "A note about them",
  remind: "A reminder for you",
};

export function SideActionDialog(props: {
  action: SideAction;
  replyId: number;
  prospectId: number;
  mates: { id: number; name: string }[];
  onClose: () => void;
}) {
  const { action, replyId, prospectId, mates, onClose } = props;
  const fetcher = useFetcher<Answered>();
  const [to, setTo] = useState("");
  const words = fetcher.state === "idle" ? fetcher.data?.words : undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: it closes once what was asked is done
  useEffect(() => {
    if (words) onClose();
  }, [words, fetcher.data]);
  const errors = fetcher.data?.errors;
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      {action && (
        <Box component={fetcher.Form} method="post">
          <DialogTitle>{TITLES[action]}</DialogTitle>
          <DialogContent sx={{ display: "grid", gap: 1.5, pt: "6px !important" }}>
            <input type="hidden" name="intent" value={action} />
            <input type="hidden" name="replyId" value={replyId} />
            <input type="hidden" name="prospectId" value={prospectId} />
            {errors?.form && <Alert severity="error">{errors.form}</Alert>}
            {action === "hand-over" && (
              <>
                <Field
                  name={to === "mail" ? "who" : "to"}
                  select
                  label="To"
                  value={to}
                  onChange={(event) => setTo(event.target.value)}
                  errors={errors}
                >
                  {mates.map(({ id, name }) => (
                    <MenuItem key={id} value={String(id)}>
                      {name}, who finds it on Today
                    </MenuItem>
                  ))}
                  <MenuItem value="mail">Somebody else, by mail</MenuItem>
                </Field>
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
                <Field
                  name="day"
                  type="date"
                  label="On"
                  errors={errors}
                  slotProps={{ inputLabel: { shrink: true } }}
                />
              </>
            )}
          </DialogContent>
          <DialogActions>
            <Button type="button" onClick={onClose}>
              Leave it
            </Button>
            <Button type="submit" variant="contained" disabled={fetcher.state !== "idle"}>
              {action === "hand-over" ? "Hand over" : action === "note" ? "Keep the note" : "Remind me"}
            </Button>
          </DialogActions>
        </Box>
      )}
    </Dialog>
  );
}
