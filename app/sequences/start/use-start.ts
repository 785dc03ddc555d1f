import { useState } from "react";
import { useSearchParams } from "react-router";
import { LEFT_OUT, STANDINGS, type Standing, WAITING } from "../../../core/sequence/standing";
import { useAction } from "../../components/use-action";
import { useKeys } from "../../desk/keys";
import { useGoingTo } from "../../desk/refresh";
import type { StartData } from "./start-data";

/** What the action gives: what was done, or how many were started. */
export interface StartAnswer {
  words?: string;
  started?: number;
}

/** Who is looked at and who is left out before a start, what its keys do, and how many would start. */
export function useStart({
  check: { counts },
  people,
  stepId,
  personId,
  standing: only,
  page,
  pageSize,
}: StartData) {
  const [, setQuery] = useSearchParams();
  const sumOf = (standings: readonly Standing[]) => standings.reduce((sum, each) => sum + counts[each], 0);
  const act = useAction<StartAnswer>({ as: "json" });
  // With how they stand: whoever is on another page of the list counts, too.
  const [leaveOut, setLeaveOut] = useState<ReadonlyMap<number, Standing>>(new Map());
  const choose = (changes: Record<string, string>) =>
    setQuery(
      (before) => {
        for (const [name, value] of Object.entries(changes)) before.set(name, value);
        return before;
      },
      { replace: true, preventScrollReset: true },
    );
  const at = people.findIndex(({ id }) => id === personId);
  const goingTo = useGoingTo();
  const turn = (by: number) => {
    const going = people.findIndex(({ id }) => id === Number(goingTo().get("person")));
    const next = people[(going < 0 ? at : going) + by];
    const pages = Math.ceil(sumOf(only ? [only] : STANDINGS) / pageSize);
    if (next) choose({ person: String(next.id) });
    else if (by > 0 && page + 1 < pages) choose({ page: String(page + 1), person: "" });
    else if (by < 0 && page > 0) choose({ page: String(page - 1), person: "" });
  };
  const toggle = (id: number) =>
    setLeaveOut((before) => {
      const after = new Map(before);
      const standing = people.find((person) => person.id === id)?.standing;
      if (!after.delete(id) && standing) after.set(id, standing);
      return after;
    });
  useKeys((key) => {
    if (key === "j") turn(1);
    else if (key === "k") turn(-1);
    else if (key === "x" && personId !== null) toggle(personId);
    else return false;
    return true;
  });
  const skipped = [...leaveOut.values()].filter((standing) => !LEFT_OUT.includes(standing));
  const waiting = sumOf(WAITING);
  return {
    act,
    /** Asks something about whoever is looked at. */
    press: (intent: string, more: Record<string, unknown> = {}) =>
      act.press({ intent, stepId, prospectId: personId, ...more }),
    leaveOut,
    toggle,
    choose,
    at,
    listed: sumOf(only ? [only] : STANDINGS),
    waiting,
    starting: Math.max(0, counts.ready + waiting - skipped.length),
    goingNow: Math.max(0, counts.ready - skipped.filter((standing) => standing === "ready").length),
  };
}

export type StartDesk = ReturnType<typeof useStart>;
