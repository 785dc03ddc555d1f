import { expect, it } from "vitest";
import { plainFileName, plainLine } from "./plain-line.ts";

it.each([
  ["photo\u202egnp.exe", "photognp.exe"],
  ["C:\\Users\\ana\\list.csv", "list.csv"],
  ["../../etc/passwd", "passwd"],
  ['a"\r\nBcc: x@y.example\r\n.pdf', "a Bcc: x@y.example.pdf"],
  ["", "file"],
  ["\u2066\u2069", "file"],
  [`${"é".repeat(300)}.pdf`, `${"é".repeat(116)}.pdf`],
  ["sessão 2026.pdf", "sessão 2026.pdf"],
])("a file called %j is shown as %j", (name, shown) => expect(plainFileName(name)).toBe(shown));

it("a line holds no sign that is not seen, and cuts no letter in two", () => {
  expect(plainLine("  Ana\u200b \u202eLima\u0007 ", 100)).toBe("Ana Lima");
  expect(plainLine("💡💡💡", 2)).toBe("💡💡");
});
