import Alert from "@mui/material/Alert";
import Box, { type BoxProps } from "@mui/material/Box";
import { useCallback, useEffect, useEffectEvent, useRef } from "react";
import {
  type FetcherSubmitOptions,
  type FetcherWithComponents,
  type SubmitTarget,
  useFetcher,
} from "react-router";
import type { Outcome } from "../../server/errors";
import type { FieldErrors } from "./field";

interface Asked {
  /** Whose action is asked, if not the page's own. */
  to?: string | undefined;
  /** Sends values as they are (readJson) or a file, and not a form's texts (readForm). */
  as?: "json" | "file";
}

export interface Action<Value> {
  Form: FetcherWithComponents<Outcome<Value>>["Form"];
  to: string | undefined;
  /** Sends without a form. A press goes when the one before it was answered. */
  press: (fields: SubmitTarget | object) => void;
  isBusy: boolean;
  /** As if it had never been asked. */
  reset: () => void;
  /** What was wrong with the latest, by field. Then nothing was changed. */
  errors: FieldErrors;
  /** What the latest gave, or null while nothing did. */
  value: Value | null;
}

/**
 * Changes something. `onDone` is told what it gave once the page shows it; of presses in line, what the last one gave.
 * A fetcher that is used again drops what it sent, and the server may never have heard of it: so presses wait for each other.
 */
export function useAction<Value = unknown>(
  { to, as }: Asked = {},
  onDone?: (value: Value) => void,
): Action<Value> {
  const fetcher = useFetcher<Outcome<Value>>();
  const { submit, state } = fetcher;
  const answer = fetcher.data as Outcome<Value> | undefined;
  const last = useRef<Promise<void> | null>(null);
  const told = useRef(answer);
  const tell = useEffectEvent((value: Value) => onDone?.(value));
  useEffect(() => {
    if (state !== "idle" || answer === told.current) return;
    told.current = answer;
    if (answer?.ok) tell(answer.value);
  }, [state, answer]);
  const press = useCallback<Action<Value>["press"]>(
    (fields) => {
      const send = () => submit(fields as SubmitTarget, sentAs(to, as));
      const turn = last.current ? last.current.then(send, send) : send();
      last.current = turn;
      const end = () => {
        if (last.current === turn) last.current = null;
      };
      void turn.then(end, end);
    },
    [submit, to, as],
  );
  return {
    Form: fetcher.Form,
    to,
    press,
    reset: fetcher.reset,
    isBusy: state !== "idle",
    ...partsOf(answer),
  };
}

const ENCODINGS = { json: "application/json", file: "multipart/form-data" } as const;

const sentAs = (to: Asked["to"], as: Asked["as"]): FetcherSubmitOptions => ({
  method: "post",
  ...(to !== undefined && { action: to }),
  ...(as && { encType: ENCODINGS[as] }),
});

/** One and the same, so that nothing that looks at it is done again. */
const NONE: FieldErrors = {};

const partsOf = <Value,>(answer: Outcome<Value> | undefined) => ({
  errors: answer && !answer.ok ? answer.errors : NONE,
  value: answer?.ok ? answer.value : null,
});

/** Asks without changing anything: of several questions the latest counts, and the others are dropped. */
export function useQuestion<Value>({ to, as }: Asked = {}) {
  const fetcher = useFetcher<Outcome<Value>>();
  const { submit } = fetcher;
  const ask = useCallback(
    (fields: SubmitTarget | object) => void submit(fields as SubmitTarget, sentAs(to, as)),
    [submit, to, as],
  );
  return { ask, isBusy: fetcher.state !== "idle", ...partsOf(fetcher.data as Outcome<Value> | undefined) };
}

/** A form that is sent as an action: what is wrong with the whole stands above its fields. `sends`: what nobody types. */
export function ActionForm({
  of,
  sends = {},
  children,
  ...box
}: Pick<BoxProps<"form">, "sx" | "children" | "aria-label" | "id" | "noValidate"> & {
  ref?: React.Ref<HTMLFormElement>;
  onSubmit?: React.FormEventHandler<HTMLFormElement>;
  of: Pick<Action<unknown>, "Form" | "to" | "errors">;
  sends?: Record<string, string | number>;
}) {
  return (
    <Box component={of.Form} method="post" {...(of.to !== undefined && { action: of.to })} {...box}>
      {Object.entries(sends).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      {of.errors.form && <Alert severity="error">{of.errors.form}</Alert>}
      {children}
    </Box>
  );
}
