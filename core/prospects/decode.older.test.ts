/** Files in letters older than Unicode, told by statistics. */
import iconv from "iconv-lite";
import { expect, it } from "vitest";
import { decodeText } from "./decode.ts";
import { readTable } from "./table.ts";

const FILES: [encoding: string, words: string[]][] = [
  ["windows-1250", ["Dvořák", "Žižka", "Příbram", "Ředitelka"]],
  ["windows-1250", ["Szűcs Gergő", "Hegedűs", "Fülöp", "Győr"]],
  ["windows-1251", ["Ольга Петрова", "Казань", "Закупки"]],
  ["windows-1252", ["Jörg Weiß", "Éloïse Lefèvre", "Søren Åkjær", "João Conceição"]],
  ["windows-1253", ["Γιώργος Παππάς", "Αθήνα", "Ελένη"]],
  ["windows-1254", ["Ayşe Yılmaz", "İstanbul", "Çağlar"]],
  ["shift_jis", ["田中太郎", "東京", "購買部長"]],
  ["euc-kr", ["김철수", "서울", "구매팀장"]],
  ["gb18030", ["王小明", "北京", "采购经理"]],
  ["big5", ["王小明", "臺北", "採購經理"]],
];

it.each(FILES)("%s: %j", (encoding, words) => {
  const text = `Email,Name\n${words.map((word, nth) => `p${nth}@kai.example,${word}`).join("\n")}`;
  expect(decodeText(iconv.encode(text, encoding))).toMatchObject({ ok: true, text, encoding, isGuess: true });
});

it("what is chosen is taken, and letters that cannot be read are counted aloud", () => {
  const bytes = iconv.encode("Email,Name\na@kai.example,Dvořák", "windows-1250");
  expect(decodeText(bytes, "windows-1252")).toMatchObject({ text: expect.stringContaining("Dvoøák") });
  const read = readTable(bytes, "utf-8");
  expect(read.ok && read.table.notes.join(" ")).toContain("2 letters could not be read");
});
