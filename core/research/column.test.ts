import { expect, it } from "vitest";
import {
  COMPANY_FIELDS,
  columnCode,
  columnProblem,
  columnSettingsSchema,
  READY_COLUMNS,
  scopeOf,
} from "./column.ts";

const ask = (question: string) => columnSettingsSchema.parse({ kind: "ask", question, reads: "site" });

it("a name becomes what texts call it, and never another field", () => {
  expect(columnCode("What they do, in a line")).toBe("what_they_do_in_a_line");
  expect(columnCode("Übernächste Öffnung 2026")).toBe("ubernachste_offnung_2026");
  expect(columnCode("2 things")).toBe("things");
  for (const name of ["Company", "first name", "Booking link", "…", "日本"])
    expect(columnCode(name)).toBeNull();
});

it("a column that asks of companies only has one value for each of them", () => {
  const columns = new Map([
    ["news", "company"],
    ["opening", "person"],
  ] as const);
  expect(scopeOf({ kind: "site", piece: "logo" }, columns)).toBe("company");
  expect(scopeOf(ask("What does {{ company }} at {{ company_domain }} say of {{ news }}?"), columns)).toBe(
    "company",
  );
  expect(scopeOf(ask("Greet {{ first_name }}"), columns)).toBe("person");
  expect(scopeOf(ask("Better: {{ opening }}"), columns)).toBe("person");
  expect(scopeOf(ask("{{ rooms }}"), columns)).toBe("person");
});

it("a field that nobody has is named, with the one that was probably meant", () => {
  expect(columnProblem(ask("{{ compny }}"), [])).toContain("company");
  expect(columnProblem(ask("{{ rooms }}"), ["rooms"])).toBeNull();
  expect(columnProblem(ask("{{ company"), [])).toContain("never closed");
});

it("what is ready can be used as it is", () => {
  for (const { name, settings } of READY_COLUMNS) {
    expect(columnSettingsSchema.parse(settings)).toEqual(settings);
    expect(columnProblem(settings, [])).toBeNull();
    expect(columnCode(name)).not.toBeNull();
  }
  expect(COMPANY_FIELDS).toContain("company");
});
