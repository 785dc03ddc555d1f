import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog, { type DialogProps } from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import type { ReactNode } from "react";
import type { FieldErrors } from "./field";
import { useAction } from "./use-action";

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
  /** Takes all of it, for what is typed; else it is as wide as its words. */
  width?: DialogProps["maxWidth"];
  onClose: () => void;
  onAct: () => void;
}) {
  const { open = true, title, children, keep, act, other, isDanger = false, onClose } = props;
  return (
    <Dialog open={open} onClose={onClose} maxWidth={props.width ?? "sm"} fullWidth={!!props.width}>
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

/** `children` get what is wrong with each field. It closes once the action took it. */
export function FormDialog<Value>(props: {
  open?: boolean;
  title: ReactNode;
  children: (errors: FieldErrors) => ReactNode;
  keep?: string;
  act: string;
  /** Sent with the form. */
  intent?: string;
  action?: string;
  isDanger?: boolean;
  width?: DialogProps["maxWidth"];
  onClose: () => void;
  /** Once it was taken, before it closes. */
  onDone?: (value: Value) => void;
}) {
  const { open = true, keep = "Cancel", isDanger = false, width = "xs", intent, onClose, onDone } = props;
  const act = useAction<Value>({ to: props.action }, (value) => {
    onDone?.(value);
    onClose();
  });
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth={width}>
      <act.Form method="post" {...(props.action && { action: props.action })}>
        <DialogTitle>{props.title}</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
          {act.errors.form && <Alert severity="error">{act.errors.form}</Alert>}
          {props.children(act.errors)}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{keep}</Button>
          <Button
            type="submit"
            variant="contained"
            color={isDanger ? "error" : "primary"}
            disabled={act.isBusy}
            {...(intent && { name: "intent", value: intent })}
          >
            {props.act}
          </Button>
        </DialogActions>
      </act.Form>
    </Dialog>
  );
}
