import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog, { type DialogProps } from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { type ReactNode, useId } from "react";
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
  const { open = true, title, children, keep, act, other, isDanger = false, isWaiting = false } = props;
  const { onClose } = props;
  // While it fades away it is still there to be pressed.
  const onAct = () => {
    if (open && !isWaiting) props.onAct();
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      maxWidth={props.width ?? "sm"}
      fullWidth={!!props.width}
      // Enter does it as soon as it is open, unless it does harm.
      onKeyDown={(event) => {
        const isOnNothing = (event.target as Element).getAttribute("role") === "dialog";
        if (event.key !== "Enter" || !isOnNothing || isDanger) return;
        // It is over with this press: whatever has the focus next does not hear the rest of it.
        event.preventDefault();
        onAct();
      }}
    >
      <DialogTitle>{title}</DialogTitle>
      <form
        // Enter in a field of it does it. What is typed here is no part of a form around the dialog.
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation();
          onAct();
        }}
        style={{ display: "contents" }}
      >
        <DialogContent>{children}</DialogContent>
        <DialogActions>
          <Button type="button" onClick={onClose}>
            {keep}
          </Button>
          {other}
          <Button
            type="submit"
            variant="contained"
            color={isDanger ? "error" : "primary"}
            disabled={isWaiting}
          >
            {act}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** Shows something; there is nothing to do but to close it, or what stands within. */
export function Viewer(props: {
  title: ReactNode;
  children: ReactNode;
  close?: string;
  width?: DialogProps["maxWidth"];
  onClose: () => void;
}) {
  const { close = "Close", width = "sm" } = props;
  const title = useId();
  return (
    <Dialog open onClose={props.onClose} fullWidth maxWidth={width} aria-labelledby={title}>
      <DialogTitle id={title}>{props.title}</DialogTitle>
      <DialogContent>{props.children}</DialogContent>
      <DialogActions>
        <Button onClick={props.onClose}>{close}</Button>
      </DialogActions>
    </Dialog>
  );
}

interface Asked {
  title: ReactNode;
  keep?: string;
  act: string;
  isDanger?: boolean;
  onClose: () => void;
}

/** What stands within a dialog's form. `error`: what is wrong with the whole. */
function FormParts(
  props: Asked & { error: string | undefined; intent?: string; isBusy: boolean; children: ReactNode },
) {
  const { keep = "Cancel", isDanger = false, intent } = props;
  return (
    <>
      <DialogTitle>{props.title}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
        {props.error && <Alert severity="error">{props.error}</Alert>}
        {props.children}
      </DialogContent>
      <DialogActions>
        <Button onClick={props.onClose}>{keep}</Button>
        <Button
          type="submit"
          variant="contained"
          color={isDanger ? "error" : "primary"}
          disabled={props.isBusy}
          {...(intent && { name: "intent", value: intent })}
        >
          {props.act}
        </Button>
      </DialogActions>
    </>
  );
}

/** `children` get what is wrong with each field. It closes once the action took it. */
export function FormDialog<Value>(
  props: Asked & {
    open?: boolean;
    children: (errors: FieldErrors) => ReactNode;
    /** Sent with the form. */
    intent?: string;
    action?: string;
    width?: DialogProps["maxWidth"];
    /** Once it was taken, before it closes. */
    onDone?: (value: Value) => void;
  },
) {
  const { open = true, width = "xs", action, onClose, onDone, children, ...parts } = props;
  const act = useAction<Value>({ to: action }, (value) => {
    onDone?.(value);
    onClose();
  });
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth={width}>
      <act.Form method="post" {...(action && { action })}>
        <FormParts {...parts} onClose={onClose} error={act.errors.form} isBusy={act.isBusy}>
          {children(act.errors)}
        </FormParts>
      </act.Form>
    </Dialog>
  );
}

/** With a form that is a schema's (schema-form.ts); whoever opened it closes it. */
export function SchemaDialog(
  props: Asked & {
    onSubmit: React.FormEventHandler<HTMLFormElement>;
    /** What the server found wrong with what was sent last. */
    errors: FieldErrors;
    isBusy: boolean;
    width: DialogProps["maxWidth"];
    children: ReactNode;
  },
) {
  const { onSubmit, errors, width, ...parts } = props;
  return (
    <Dialog open onClose={props.onClose} fullWidth maxWidth={width}>
      <form noValidate onSubmit={onSubmit}>
        <FormParts {...parts} error={errors.form} />
      </form>
    </Dialog>
  );
}
