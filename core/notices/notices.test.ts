import { expect, it } from "vitest";
import { afterQuiet, isQuiet, noticeSettingsSchema, waysOf } from "./notices.ts";

const ZONE = "Europe/Lisbon";
const at = (time: string) => Date.parse(`2026-06-09T${time}:00+01:00`);
const usual = noticeSettingsSchema.parse({});

it("quiet hours run over midnight, and what falls into them goes when they are over", () => {
  expect(isQuiet(at("22:00"), usual, ZONE)).toBe(true);
  expect(isQuiet(at("06:00"), usual, ZONE)).toBe(true);
  expect(isQuiet(at("12:00"), usual, ZONE)).toBe(false);
  expect(afterQuiet(at("22:00"), usual, ZONE)).toBe(at("07:30") + 24 * 3_600_000);
  expect(afterQuiet(at("06:00"), usual, ZONE)).toBe(at("07:30"));
  const never = { ...usual, quietFrom: "20:00", quietUntil: "20:00" };
  expect(isQuiet(at("22:00"), never, ZONE)).toBe(false);
});

it("a notice goes the ways that its row says: none, the app, the browser outside quiet hours, mail at once or in the summary", () => {
  expect(waysOf("click", at("12:00"), usual, ZONE)).toBeNull();
  expect(waysOf("reply", at("12:00"), usual, ZONE)).toEqual({ inApp: true, inBrowser: false, mailAt: null });
  expect(waysOf("booking", at("23:00"), usual, ZONE)?.mailAt).toBe(at("07:30") + 24 * 3_600_000);
  const own = noticeSettingsSchema.parse({ ways: { reply: { app: false, browser: true, mail: "summary" } } });
  expect(waysOf("reply", at("12:00"), own, ZONE)).toEqual({
    inApp: false,
    inBrowser: true,
    mailAt: at("17:00"),
  });
  expect(waysOf("reply", at("18:00"), own, ZONE)?.mailAt).toBe(at("17:00") + 24 * 3_600_000);
  expect(waysOf("reply", at("23:00"), own, ZONE)?.inBrowser).toBe(false);
});
