import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { blockEntry, isBlocked } from "../../db/block-list.ts";
import { signLink } from "../../secrets.ts";
import { addJourney, addPeople, addSequence, createWorld, rows, type World } from "../../tests/world.ts";
import { mergeProspects } from "../duplicates/merge-prospects.ts";
import { eraseProspect } from "../privacy/erase-prospect.ts";
import { listBlocked, unblock } from "./block-list.ts";
import { optOut, optOutAddress } from "./opt-out.ts";

const [ANA, BIA] = ["ana@ana-museum.example", "bia@bia-museum.example"];
let world: World;
let sequenceId: number;
beforeEach(async () => {
  world = await createWorld({ standin: false });
  sequenceId = addSequence(world, addPeople(world, ["ana", "bia"]), []);
});
afterEach(() => world.close());

const link = (prospectId: number) => signLink("opt-out", String(prospectId), world.app.key);
const reasonOf = (address: string) => listBlocked(world.app, address, 0).rows[0]?.reason;
const optedOut = () => rows(world, "SELECT prospect_id FROM events WHERE kind = 'opted_out'");
const journeys = () => rows(world, "SELECT prospect_id, state, stop_reason FROM journeys");

describe("an opt-out", () => {
  it("pressed twice is recorded once, and a link that we did not make does nothing", () => {
    optOut(world.app, link(1));
    optOut(world.app, link(1));
    expect(optedOut()).toHaveLength(1);
    for (const foreign of [signLink("booking", "2", world.app.key), link(99), `${link(2)}x`, ""])
      expect(() => optOut(world.app, foreign)).toThrow("not complete");
    expect(isBlocked(world.app.db, BIA)).toBe(false);
  });

  it("shows the address only in part: links get forwarded", () => {
    expect(optOutAddress(world.app, link(1))).toEqual({ address: "a…@ana-museum.example", prospectId: 1 });
  });

  it("by the link of an entry that was merged stops the one that remains, and blocks every address", () => {
    addJourney(world, sequenceId, 2);
    mergeProspects(world.app, { keepId: 2, goneId: 1 }, world.userId);
    optOut(world.app, link(1));
    expect(journeys()).toEqual([{ prospect_id: 2, state: "stopped", stop_reason: "opted_out" }]);
    expect([reasonOf(ANA), reasonOf(BIA)]).toEqual(["opted_out", "opted_out"]);
    expect(optedOut()).toEqual([{ prospect_id: 2 }]);
  });

  it("counts anew once somebody was taken off the block list", () => {
    optOut(world.app, link(1));
    const [entry] = listBlocked(world.app, ANA, 0).rows;
    expect(unblock(world.app, null, { id: entry?.id, why: "asked for a call on the phone" }).ok).toBe(true);
    addJourney(world, sequenceId, 1);
    optOut(world.app, link(1));
    expect(journeys()).toEqual([{ prospect_id: 1, state: "stopped", stop_reason: "opted_out" }]);
    expect(reasonOf(ANA)).toBe("opted_out");
    expect(optedOut()).toHaveLength(2);
  });

  it("is the strictest reason to be blocked", () => {
    blockEntry(world.app.db, { kind: "address", value: ANA, reason: "bounced", at: 1 });
    optOut(world.app, link(1));
    expect(reasonOf(ANA)).toBe("opted_out");
  });

  it("of somebody who was erased finds nobody left to stop, and says so without an error", () => {
    eraseProspect(world.app, null, { id: 1, name: "ana" });
    expect(optOutAddress(world.app, link(1)).address).toBeNull();
    optOut(world.app, link(1));
    expect(optedOut()).toEqual([]);
    expect(rows(world, "SELECT 1 FROM block_list")).toEqual([]);
  });
});
