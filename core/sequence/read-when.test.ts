/** Times as a rep types them; it is Tuesday, 9 June 2026, 10:44 in Lisbon, and the prospect is in Madrid (an hour ahead). */
import { expect, it } from "vitest";
import { readWhen } from "./read-when.ts";

const NOW = Date.parse("2026-06-09T10:44:00+01:00");
const read = (text: string) => readWhen(text, { now: NOW, own: "Europe/Lisbon", theirs: "Europe/Madrid" });

it.each([
  ["Monday 8:00", "2026-06-15 08:00"],
  ["in 3 months", "2026-09-09 08:30"],
  ["tomorrow morning their time", "2026-06-10 08:30"],
  ["after the fair on 12 June", "2026-06-15 08:30"],
  ["tomorrow", "2026-06-10 08:30"],
  ["thursday 14:15", "2026-06-11 14:15"],
  ["next tuesday at 9", "2026-06-16 09:00"],
  ["in 2 weeks", "2026-06-23 08:30"],
  ["18/06 at 11.30", "2026-06-18 11:30"],
  ["18 June, 3pm", "2026-06-18 15:00"],
  ["friday afternoon", "2026-06-12 14:00"],
  ["tomorrow at noon", "2026-06-10 12:00"],
  ["tomorrow 10:00 my time", "2026-06-10 11:00"],
  ["in two hours", "2026-06-09 13:44"],
  ["today at 17:00", "2026-06-09 17:00"],
  ["1 September", "2026-09-01 08:30"],
  ["2026-07-03 09:15", "2026-07-03 09:15"],
  ["in a month", "2026-07-09 08:30"],
  ["end of august", "2026-08-31 08:30"],
  ["this evening", "2026-06-09 18:00"],
])("“%s” is %s where they are", (text, expected) => {
  const found = read(text);
  expect(found && "date" in found ? `${found.date} ${found.time}` : found).toBe(expected);
});

it("“now”, nothing, and “best hour” are said so; what is over or no time at all is not taken", () => {
  expect(read("now")).toEqual({ when: "now" });
  expect(read("")).toEqual({ when: "now" });
  expect(read("at their best hour")).toEqual({ when: "best" });
  expect(read("whenever the cows come home")).toBeNull();
  expect(read("yesterday 8:00")).toEqual({ isOver: true });
  expect(read("today 9:00")).toEqual({ isOver: true });
});

it("what is counted from today to a weekend goes on the Monday; what is named does not", () => {
  expect(read("in 4 days")).toMatchObject({ date: "2026-06-15" });
  expect(read("saturday 10:00")).toMatchObject({ date: "2026-06-13", time: "10:00" });
});
