/** Conditions that a fork asks, and those under which a step is made at all; whether they hold says holds.ts. */
import type { Condition, Fork } from "./path-schema.ts";
import { isNoWait, usualDays } from "./wait.ts";

export type { Condition };

/** Whether it is answered by how somebody is, not by what may still happen. */
export const isStanding = ({ about }: Condition): boolean =>
  about === "address" || about === "profile" || about === "field";

/** Whether somebody stays at a fork for a while: for what may happen, or until nothing came for so long. */
export const takesTime = ({ ask, patience }: Fork): boolean => !isStanding(ask) && !isNoWait(patience);

/** The working days after which a way of a fork usually begins: the one that is taken where nothing came waits for that. */
export const patienceOn = ({ ask, patience }: Fork, branch: "yes" | "no"): number =>
  isStanding(ask) || branch !== (ask.not ? "yes" : "no") ? 0 : usualDays(patience);
