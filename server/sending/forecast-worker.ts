/** Plans the coming weeks in a thread of its own, as they are and as they would be: the page that asks stays quick. */
import { DAY } from "../../core/calendar.ts";
import { type Outlook, outlook } from "../../core/sending/outlook.ts";
import { makePlan } from "../../core/sending/plan.ts";
import type { PlanInput } from "../../core/sending/plan-parts.ts";
import { changed, isNothing, type Newcomer, type WhatIf } from "../../core/sending/what-if.ts";
import { type Db, openDb } from "../db/open.ts";
import { planAhead } from "./plan.ts";

/** How far the forecast looks. */
const REACH = 60 * DAY;
/** The clock goes on; within this the same plan serves. */
const SERVES = 60_000;

export interface Asked {
  database: string;
  now: number;
  zone: string;
  change: WhatIf;
}

interface Base {
  truth: string;
  input: PlanInput;
  outlook: Outlook;
  newcomer: (sequenceId: number | null) => Newcomer | null;
}

let db: Db | null = null;
let base: Base | null = null;

export default function forecastNow({ database, now, zone, change }: Asked): Outlook {
  if (db?.name !== database) {
    db?.close();
    db = openDb(database);
  }
  const truth = `${db.pragma("data_version", { simple: true })} ${Math.floor(now / SERVES)} ${zone}`;
  if (base?.truth !== truth) {
    const { parts, touches, blocks, situation } = planAhead(db, now, now + REACH);
    const input = { now, until: now + REACH, ...parts };
    base = {
      truth,
      input,
      outlook: outlook(input, { touches, blocks }, zone),
      newcomer: (sequenceId) => situation.newcomer(now, sequenceId),
    };
  }
  if (isNothing(change)) return base.outlook;
  const input = changed(base.input, change, base.newcomer(change.sequenceId));
  return outlook(input, makePlan(input), zone);
}
