import { useCallback, useRef } from "react";
import { useFetcher } from "react-router";

/**
 * A fetcher for what can be pressed again before the server has answered: each goes when the one before is done.
 * A fetcher that is used again drops what it sent, and the server may never have heard of it.
 */
export function useInTurn<T>(): ReturnType<typeof useFetcher<T>> {
  const fetcher = useFetcher<T>();
  const { submit: send } = fetcher;
  const last = useRef<Promise<void> | null>(null);
  const submit = useCallback<typeof send>(
    (...sent) => {
      const turn = last.current ? last.current.then(() => send(...sent)) : send(...sent);
      last.current = turn;
      return turn.finally(() => {
        if (last.current === turn) last.current = null;
      });
    },
    [send],
  );
  return { ...fetcher, submit };
}
