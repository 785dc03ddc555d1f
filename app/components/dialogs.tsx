/** The two dialogs of the tool: one says what follows and asks for a yes, one holds a form and closes once that was taken. */
import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog, { type DialogProps } from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { type ReactNode, useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { FieldErrors } from "./field";

export function Confirm(props: {
  open?: boolean;
  title: ReactNode;
  /** What follows from it. */
  children: ReactNode;
  /** The press that leaves everything as it is, and the one that does it. */
  keep: string;
  act: string;
  /** Another way to do it, between the two. */
  other?: ReactNode;
  isDanger?: boolean;
  /** While what follows is not known yet, or it is being done. */
  isWaiting?: boolean;
  onClose: () => void;
  onAct: () => void;
}) {
  const { open = true, title, children, keep, act, other, isDanger = false, onClose } = props;
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm">
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>{children}</DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{keep}</Button>
        {other}
        <Button
          variant="contained"
          color={isDanger ? "error" : "primary"}
          disabled={props.isWaiting ?? false}
          onClick={props.onAct}
        >
          {act}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** `Answer`: what the action says; it was taken where it names no errors. `children` get what is wrong with each field. */
export function FormDialog<Answer extends { errors?: FieldErrors }>(props: {
  open?: boolean;
  title: ReactNode;
  children: (errors: FieldErrors | undefined) => ReactNode;
  keep?: string;
  act: string;
  /** Sent with the form. */
  intent?: string;
  action?: string;
  isDanger?: boolean;
  width?: DialogProps["maxWidth"];
  onClose: () => void;
  /** Once it was taken, before it closes. */
  onDone?: (answer: Answer) => void;
}) {
  const { open = true, keep = "Cancel", isDanger = false, width = "xs", intent, onClose, onDone } = props;
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data as Answer | undefined;
  const [seen, setSeen] = useState<unknown>(null);
  useEffect(() => {
    if (fetcher.state !== "idle" || !answer || answer === seen || answer.errors) return;
    setSeen(answer);
    onDone?.(answer);
    onClose();
  }, [fetcher.state, answer, seen, onDone, onClose]);
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth={width}>
      <fetcher.Form method="post" {...(props.action && { action: props.action })}>
        <DialogTitle>{props.title}</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
          {answer?.errors?.form && <Alert severity="error">{answer.errors.form}</Alert>}
          {props.children(answer?.errors)}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{keep}</Button>
          <Button
            type="submit"
            variant="contained"
            color={isDanger ? "error" : "primary"}
            disabled={fetcher.state !== "idle"}
            {...(intent && { name: "intent", value: intent })}
          >
            {props.act}
          </Button>
        </DialogActions>
      </fetcher.Form>
    </Dialog>
  );
}
