/** What would be if: one plan's input, changed as a rep asks. Nothing of it is kept. */
import { z } from "zod";
import type { PlanInput, PlanJourney } from "./plan-parts.ts";
import type { Sender } from "./sender.ts";

export const whatIfSchema = z.object({
  /** Limit and gap hold for this mailbox alone; null: for every one. */
  onlyMailbox: z.number().int().nullable().default(null),
  /** Emails a day of a mailbox. */
  dailyLimit: z.coerce.number().int().min(1).max(500).nullable().default(null),
  gapMinutes: z
    .object({ least: z.number().min(0).max(240), most: z.number().min(0).max(240) })
    .refine(({ least, most }) => most >= least)
    .nullable()
    .default(null),
  /** What follow-ups may claim of the day. */
  followUpPercent: z.number().int().min(0).max(100).nullable().default(null),
  moreMailboxes: z.number().int().min(0).max(100).default(0),
  /** Mailboxes that do not send. */
  paused: z.array(z.number().int()).max(200).default([]),
  /** First emails go from this instant on. */
  firstsFrom: z.number().int().nullable().default(null),
  morePeople: z.number().int().min(0).max(100_000).default(0),
  /** The sequence that they begin; null: the one that most people are on. */
  sequenceId: z.number().int().nullable().default(null),
});
export type WhatIf = z.infer<typeof whatIfSchema>;
export const NOTHING_ELSE: WhatIf = whatIfSchema.parse({});

export const isNothing = (change: WhatIf): boolean => JSON.stringify(change) === JSON.stringify(NOTHING_ELSE);

/** Whether a journey is of a what-if alone: those have numbers below zero. */
export const isNewcomer = (journeyId: number): boolean => journeyId < 0;

/** New people begin as those who begin now do. */
export interface Newcomer extends Pick<PlanJourney, "calendar" | "senderIds" | "ahead" | "pace"> {
  dueAt: number;
}

/**
 * The changed input. A further mailbox is like the first that is there; new people get the steps of `newcomer`, without whom
 * there are none. The moments that were kept give way, since they were made under other rules.
 */
export function changed(input: PlanInput, change: WhatIf, newcomer: Newcomer | null): PlanInput {
  const {
    onlyMailbox,
    dailyLimit,
    gapMinutes,
    followUpPercent,
    moreMailboxes,
    paused,
    firstsFrom,
    morePeople,
  } = change;
  const senders = input.senders
    .filter(({ id }) => !paused.includes(id))
    .map(
      (sender): Sender =>
        onlyMailbox !== null && sender.id !== onlyMailbox
          ? sender
          : {
              ...sender,
              ...(dailyLimit === null ? {} : { dailyLimit }),
              ...(gapMinutes === null ? {} : { gapMinutes }),
            },
    );
  const model = senders[0];
  const added: Sender[] = model
    ? Array.from({ length: moreMailboxes }, (_, nth) => ({
        ...model,
        id: -1 - nth,
        ramp: null,
        sentToday: 0,
        followUpsToday: 0,
        lastSentAt: null,
        sentLately: [],
        restsUntil: null,
      }))
    : [];
  // Pools stay shared objects, by which the plan knows alike people.
  const pools = new Map<readonly number[], readonly number[]>();
  const poolOf = (ids: readonly number[], isThread: boolean): readonly number[] => {
    if (isThread) return ids;
    const known = pools.get(ids) ?? [
      ...ids.filter((id) => !paused.includes(id)),
      ...added.map(({ id }) => id),
    ];
    pools.set(ids, known);
    return known;
  };
  const journeys = input.journeys.map(
    (journey): PlanJourney => ({
      ...journey,
      senderIds: poolOf(journey.senderIds, journey.followUp),
      dueAt: firstsFrom !== null && !journey.followUp ? Math.max(journey.dueAt, firstsFrom) : journey.dueAt,
    }),
  );
  const newcomers = newcomer
    ? Array.from(
        { length: morePeople },
        (_, nth): PlanJourney => ({
          ...newcomer,
          id: -1 - nth,
          senderIds: poolOf(newcomer.senderIds, false),
          followUp: false,
          dueAt: Math.max(newcomer.dueAt, firstsFrom ?? 0),
        }),
      )
    : [];
  return {
    ...input,
    senders: [...senders, ...added],
    journeys: [...journeys, ...newcomers],
    rules:
      followUpPercent === null || !input.rules
        ? input.rules
        : { ...input.rules, followUpShare: followUpPercent / 100 },
    kept: [],
  };
}
