import { readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { ACTS, type Belonging, lineOf, may } from "./may.ts";
import { permissionsPage } from "./permissions-page.ts";

const rep = { id: 1, role: "rep" } as const;
const other = { id: 2, role: "rep" } as const;
const manager = { id: 3, role: "manager" } as const;
const mine: Belonging = { owners: [1], isTeams: false, sharing: null };

describe("who may", () => {
  it("lets nobody but the owner and managers change what is somebody's, whatever it is", () => {
    for (const act of ACTS.filter((each) => lineOf(each).who === "owners")) {
      expect(may(rep, act, mine), act).toBe(true);
      expect(may(manager, act, mine), act).toBe(true);
      expect(may(other, act, mine), act).toBe(false);
      expect(may(other, act, { owners: [], isTeams: false, sharing: null }), act).toBe(false);
    }
  });

  it("goes by what the owner says of lists, filters, pieces and profiles", () => {
    const shared = (sharing: "mine" | "use" | "change") => ({ ...mine, sharing });
    const can = (sharing: "mine" | "use" | "change") =>
      (["list.use", "list.change", "list.share"] as const).map((act) => may(other, act, shared(sharing)));
    expect(can("mine")).toEqual([false, false, false]);
    expect(can("use")).toEqual([true, false, false]);
    expect(can("change")).toEqual([true, true, false]);
  });

  it("leaves what is nobody's in particular to the whole team, and what is one's own to oneself", () => {
    expect(may(other, "prospect.change", { owners: [], isTeams: true, sharing: null })).toBe(true);
    expect(may(manager, "settings.own", mine)).toBe(false);
    expect(may(rep, "settings.team", mine)).toBe(false);
  });
});

it("the page of the docs is what the table says", () => {
  const page = readFileSync(join(import.meta.dirname, "../../docs/permissions.md"), "utf8");
  // The formatter lines the table up.
  const plain = (text: string) => text.replace(/ *\| */g, "|").replace(/-{2,}/g, "---");
  expect(plain(page)).toBe(plain(permissionsPage()));
});
