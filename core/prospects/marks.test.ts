import { expect, it } from "vitest";
import { isStatusColumn, markColumn, markOf, markOfStatus, saysYesOrNo } from "./marks.ts";

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

/** Headers by other hands, which were not written for the patterns. */
const WANTS_NONE =
  `Has Opted Out Of Email|Not to be contacted|Asked not to be emailed|Removed from newsletter|Withdrawn consent to emails
Nicht mehr anschreiben|Werbewiderspruch|Kontaktverbot|Ne plus contacter|Ne souhaite pas de mail|Baja de la lista|No desea recibir correos
Não quer receber emails|Non inviare email|Revoca consenso|Wil geen mail|Kontakta inte|Ikke send mail|Ei postituksia|Nie wysyłać|Nezasílat
Nekontaktovať|Neküldendő|Nu trimite|Не отправлять письма|Не надсилати|İletişime geçilmesin|Μην στέλνετε|Nemoj slati|Ne pošiljaj|Nesiųsti laiškų
Mitte saata|メール不要|不要联系|메일 거부|ممنوع المراسلة|לא לשלוח|ईमेल न भेजें|Không gửi email|Jangan kirim email`.split(
    /[|\n]/,
  );
const TELLS_OTHERWISE =
  `Not contacted|Nicht kontaktiert|Not yet emailed|Noch nicht kontaktiert|Sent no of mails|Phone opt-out|Consent given|Opposition party|Planta baja|Mail stop code|Mailing list|Newsletter|Nebraska|Nem|No. of employees|Non-profit|Sperrzeiten|Cancellation policy|Last emailed`.split(
    "|",
  );

it("says so in most languages and wordings, and in none that only tell what was done", () => {
  expect(WANTS_NONE.filter((header) => markColumn(header) !== "opt_out")).toEqual([]);
  expect(TELLS_OTHERWISE.filter((header) => markColumn(header) !== null)).toEqual([]);
});

it("a column of yes and no is known for one in whatever language", () => {
  for (const cells of [
    ["ano", "ne", ""],
    ["x", "", ""],
    ["TRUE", "false"],
    ["はい", "いいえ"],
    ["1", "0"],
  ])
    expect(saysYesOrNo(cells)).toBe(true);
  for (const cells of [["no", "no"], ["", ""], ["yes", "maybe"], ["1", "2"], ["Porto"]])
    expect(saysYesOrNo(cells)).toBe(false);
});
