/** What is done at the desk of replies: which letter is open, which label it gets, what its keys do, and how it is taken back. */
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Desk } from "../../server/desk/reading-desk";
import { isPhone } from "../components/phone";
import { useAction } from "../components/use-action";
import { useKeys } from "../desk/keys";
import { useAtRest, useGoingTo } from "../desk/refresh";
import type { AnswerHandle } from "./answer-form";
import { isLabelled, SETTLES } from "./label-words";
import { type SideAction, sideActionOf } from "./side-actions";

/** The open letter is the one that the address names; `beside(1)` is the next one. */
function useChoosing({ replies, open }: Pick<Desk, "replies" | "open">) {
  const [params, setParams] = useSearchParams();
  const isAtRest = useAtRest();
  const goingTo = useGoingTo();
  function beside(by: 1 | -1): number | undefined {
    const at = Number(goingTo().get("reply"));
    const index = replies.findIndex(({ id }) => id === at);
    return replies[(index < 0 ? replies.findIndex(({ id }) => id === open?.id) : index) + by]?.id;
  }
  function select(id: number | undefined, replace = false): void {
    if (id === undefined) return;
    const next = goingTo();
    next.set("reply", String(id));
    setParams(next, { replace, preventScrollReset: true });
  }
  // The one that is open stays open when a newer one arrives, with what was typed below it.
  // biome-ignore lint/correctness/useExhaustiveDependencies: choosing is made anew with the address, which is named here.
  useEffect(() => {
    // On a phone the list stands alone until a letter is chosen.
    if (!params.has("reply") && isPhone()) return;
    if (open && params.get("reply") !== String(open.id) && isAtRest()) select(open.id, true);
  }, [open?.id, params, isAtRest]);
  return { select, beside };
}

interface Labelled {
  id: number;
  name: string;
  label: string;
}

export function useReplyDesk({ replies, labels, open, notYours, offer, afterLabel }: Desk) {
  const { select, beside } = useChoosing({ replies, open });
  const answer = useRef<AnswerHandle>(null);
  const { press, isBusy, errors } = useAction();
  /** The reply that was given a label last, heard or not: what U takes back. It is told once the server has heard it. */
  const asked = useRef<Labelled | null>(null);
  const [last, setLast] = useState<Labelled | null>(null);
  const labelling = useAction({}, () => setLast(asked.current));
  /** The label that is looked at before it is set. */
  const [looked, setLooked] = useState<string | null>(null);
  const [side, setSide] = useState<SideAction | null>(null);
  const names = new Map(labels.map(({ code, name }) => [code, name]));
  // Whoever reads it first must be heard: an opt-out can be noted by everybody.
  const usable = notYours === null ? labels : labels.filter(({ code }) => code === "opt_out");
  const may = (action: SideAction) => notYours === null || action !== "hand-over";

  const ask = (intent: string, more: Record<string, string> = {}) =>
    open && press({ intent, replyId: String(open.id), ...more });
  const turn = () => ask(open?.readAt === null ? "read" : "unread");
  function setLabel(code: string): void {
    if (!open || !isLabelled(open.kind) || !usable.some((each) => each.code === code)) return;
    asked.current = { id: open.id, name: open.name, label: names.get(code) ?? code };
    setLast(null);
    labelling.press({ intent: "label", replyId: String(open.id), label: code });
    if (afterLabel === "next" || (afterLabel === "settled" && SETTLES.has(code)))
      select(beside(1) ?? beside(-1));
  }
  // One that was refused is looked at again, under what is said of it.
  const refused = useEffectEvent(() => {
    select(asked.current?.id);
    asked.current = null;
  });
  useEffect(() => {
    if (Object.keys(labelling.errors).length > 0) refused();
  }, [labelling.errors]);
  function undo(): void {
    const id = asked.current?.id ?? (open?.label ? open.id : undefined);
    if (id === undefined) return;
    asked.current = null;
    setLast(null);
    labelling.press({ intent: "undo", replyId: String(id) });
    select(id);
  }
  useKeys((key) => {
    const byNumber = /^[1-9]$/.test(key) ? labels[Number(key) - 1] : undefined;
    const action = sideActionOf(key);
    if (key === "j") select(beside(1));
    else if (key === "k") select(beside(-1));
    else if (key === "r") answer.current?.focus();
    else if (key === "t") answer.current?.insert(offer.times || offer.link);
    else if (key === "b") answer.current?.insert(offer.link);
    else if (key === "d") answer.current?.suggest();
    else if (key === "u") undo();
    else if (key === "e" && notYours === null) turn();
    else if (byNumber) setLabel(byNumber.code);
    else if (action && open && may(action)) setSide(action);
    else return false;
    return true;
  });
  return {
    answer,
    names,
    usable,
    may,
    select,
    next: () => select(beside(1)),
    ask,
    turn,
    isBusy,
    errors: { ...errors, ...labelling.errors },
    setLabel,
    undo,
    last,
    looked,
    setLooked,
    side,
    setSide,
  };
}

export type ReplyDesk = ReturnType<typeof useReplyDesk>;
