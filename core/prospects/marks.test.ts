import { expect, it } from "vitest";
import { isStatusColumn, markColumn, markOf, markOfStatus } from "./marks.ts";

it.each([
  "Email Opt Out",
  "Unsubscribed on",
  "Do not contact",
  "DNC",
  "Abgemeldet",
  "Werbesperre",
  "Désabonné",
  "Dado de baja",
  "Descadastrado",
  "Uitgeschreven",
  "Avregistrerad",
  "Wypisany",
  "Odhlášen",
  "Отписан",
  "配信停止",
  "退订",
  "수신거부",
])("the column “%s” says who wants no mail", (header) => expect(markColumn(header)).toBe("opt_out"));

it.each(["Bounced", "Hard bounce", "Email invalid", "Unzustellbar"])(
  "the column “%s” says which address came back",
  (header) => expect(markColumn(header)).toBe("bad_address"),
);

it.each([
  "Email",
  "Opt in",
  "Do not call",
  "Unsubscribe link",
  "Bounce count",
  "Contact",
  "Baja California",
  "Company",
])("the column “%s” says neither", (header) => expect(markColumn(header)).toBeNull());

it("whatever is no “no” is a yes", () => {
  for (const yes of ["true", "1", "x", "ja", "2026-05-03", "asked by phone"])
    expect(markOf("opt_out", yes)).toBe("opted_out");
  for (const no of ["", "false", "0", "no", "nein", "–", "subscribed", "N/A"])
    expect(markOf("opt_out", no)).toBeNull();
  expect(markOf("bad_address", "yes")).toBe("bounced");
});

it("a state counts where it says so, and in no other word", () => {
  expect(isStatusColumn("Email status")).toBe(true);
  expect(isStatusColumn("Estate")).toBe(false);
  expect([markOfStatus("Unsubscribed"), markOfStatus("bounced"), markOfStatus("Open")]).toEqual([
    "opted_out",
    "bounced",
    null,
  ]);
});
