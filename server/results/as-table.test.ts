/** A table by whatever an address asks for: its part, or else the steps. */
import { expect, it } from "vitest";
import { addPeople, addSequence, addUnasked, createWorld } from "../tests/world.ts";
import { sequenceTable } from "./as-table.ts";

it("gives the part that is asked for, and the steps for what is none", async () => {
  const world = await createWorld({ standin: false });
  try {
    const id = addSequence(world, addPeople(world, ["ana"]), [addUnasked(world)]);
    const head = (show: string) => sequenceTable(world.app, 1, id, { show }, "UTC")?.split(/\r?\n/)[0];
    expect(head("weeks")).toMatch(/^day,started/);
    for (const show of ["steps", "", "__proto__", "constructor", "toString"])
      expect(head(show)).toMatch(/^step,channel/);
    expect(sequenceTable(world.app, 1, 999, {}, "UTC")).toBeNull();
  } finally {
    await world.close();
  }
});
