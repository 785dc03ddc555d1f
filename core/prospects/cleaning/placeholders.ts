/** What stands in a name's cell and is no name: blanks as exports write them, posts, companies, addresses, numbers. */
import { mayBeTitle, readTitleAsWritten } from "../titles/read-title.ts";
import { endsInLegalForm, mayEndForm } from "./companies.ts";
import { isTitleWord } from "./honorifics.ts";

/** Blanks in the languages that exports come in; in small letters, without dots, spaces and brackets. */
const BLANKS = new Set(
  `na n/a #n/a #na none nil unknown unbekannt inconnu desconocido desconhecido sconosciuto onbekend nieznany okänd ukendt
  ukjent tbd tba tbc xxx xx xxxx asdf asdfgh qwerty abc foo undefined nan blank empty leer vide vacío vazio vuoto leeg
  brak ka keineangabe noname nolastname nofirstname nofirst nolast noaplica sinnombre sinapellido nodata notavailable
  notapplicable notprovided notset nc nr sn ndef firstname lastname vorname nachname name fullname prénom nom nombre
  apellido surname placeholder anonymous anonym anonyme anónimo dummy sample example beispiel select bitteauswählen
  missing deleted gelöscht private hidden confidential novalue null false true undisclosed`.split(/\s+/),
);
const FAMILY_NAMES = new Set(["null", "na", "ka", "nan", "nom", "private", "abc", "sample", "true"]);
const GIVEN_NAMES = new Set(["na", "ka", "nan", "nom"]);
/** Blank if nothing else says that it is a name: "Test" and "Null" are family names, too. */
const SUSPECTS = new Set([
  "test",
  "tester",
  "testing",
  "demo",
  "user",
  "admin",
  "null",
  "none",
  "test1",
  "first",
  "last",
  "foo",
  "bar",
]);
/** Who answers for a function and is no person. */
const FUNCTIONS = new Set(
  `info contact office sales salesteam team support supportteam marketing marketingteam admin hr accounts accounting
  reception helpdesk service customerservice customersupport billing finance purchasing procurement buchhaltung einkauf
  vertrieb personalabteilung sekretariat empfang zentrale kontakt contacto contato accueil comptabilité achats ventas
  compras administración administracja secretariado accountspayable accountsreceivable frontdesk theteam webmaster
  postmaster newsletter noreply mailbox humanresources itdepartment itsupport press presse recursoshumanos
  secretariat segreteria amministrazione ufficio receptie administratie generalenquiries enquiries
    kundenservice kundendienst kundencenter serviceteam vertriebsteam customercare serviceclient atencionalcliente
    klantenservice obslugaklienta zakaznickyservis kundtjanst redaktion poststelle hotline switchboard operator`.split(
    /\s+/,
  ),
);

/** What scraped lists say in place of a given name: what somebody does at an event, or in a file. */
const LABELS = new Set(
  `speaker guest attendee delegate host moderator panelist panellist presenter exhibitor sponsor visitor member ref attn fao
  staff employee candidate applicant registrant participant recipient customer client subscriber author organizer organiser
  teilnehmer teilnehmerin referent referentin gast mitglied mitarbeiter kunde participant invité intervenant conférencier
  ponente asistente orador participante palestrante relatore partecipante ospite spreker deelnemer talare deltagare
  deltager foredragsholder prelegent uczestnik řečník účastník előadó résztvevő konuşmacı katılımcı спикер участник
  докладчик 参加者 講演者 ご担当者 担当者 参会者 嘉宾 참석자 발표자 담당자
  부장 과장 차장 팀장 대표 대표이사 이사 사장 실장 본부장 대리 주임 部長 課長 社長 係長 主任 取締役 店長 经理 總監 总监 总经理 主管 部长 董事长`.split(
    /\s+/,
  ),
);
/** Whether a first name's cell holds such a word and nothing else. */
export const isLabel = (value: string): boolean =>
  LABELS.has(value.trim().toLowerCase().replace(/[.:]$/, ""));

const squeezed = (value: string) => value.toLowerCase().replace(/[\s.()[\]<>{}"'_-]/g, "");

/** A cell of signs only ("-", "???", "...") or one of the words for a blank. */
export function isBlank(value: string, isLast: boolean): boolean {
  const plain = squeezed(value);
  if (!/[\p{L}\p{N}]/u.test(value)) return true;
  // "Null" is a family name, "Na" and "Nan" are given names; their blanks are not written like names.
  const isName = /^\p{Lu}\p{Ll}+$/u.test(value) && (isLast ? FAMILY_NAMES : GIVEN_NAMES).has(plain);
  return BLANKS.has(plain) && !isName;
}

/** Whether first and last name together are somebody's trial: "Test User", "test test". */
export function isTrial(first: string, last: string): boolean {
  const words = `${first} ${last}`
    .toLowerCase()
    .split(/[\s\d._-]+/)
    .filter(Boolean);
  return words.length > 0 && words.every((word) => SUSPECTS.has(word) || BLANKS.has(word));
}

export const NOT_A_NAME = ["address", "number", "job_title", "company", "function"] as const;
export type NotAName = (typeof NOT_A_NAME)[number];

/** What the cells of a name hold instead of one; null if it may be a name. */
export function notAName(whole: string): NotAName | null {
  if (/\S@\S+\.\S/.test(whole) || /^(https?:\/\/|www\.)/i.test(whole)) return "address";
  if (/^[^\p{L}]*\d[^\p{L}]*$/u.test(whole)) return "number";
  if (FUNCTIONS.has(squeezed(whole))) return "function";
  if (endsInLegalForm(whole)) return "company";
  return isJobTitle(whole) ? "job_title" : null;
}

/**
 * Whether two plain words may be no name all the same: "Test User", "Info Desk", "Sales Manager". A quick look before
 * names by the hundred thousand are asked for all of it; never denies what the others would say.
 */
export function mayBeNoName(first: string, last: string): boolean {
  const given = first.toLowerCase();
  const family = last.toLowerCase();
  return (
    LABELS.has(given) ||
    isTitleWord(given) ||
    [BLANKS, SUSPECTS].some((words) => words.has(given) || words.has(family)) ||
    FUNCTIONS.has(given + family) ||
    mayEndForm(family) ||
    mayBeTitle(`${first} ${last}`)
  );
}

/** Alone these are names, too: "Marshall Head", "Dean", "Chef". */
const ALONE =
  /^(managing director|chief|owner|founder|director|manager|partner|president|vice president|consultant|engineer|assistant|intern|receptionist|accountant|recruiter|controller|product owner|office manager|project manager|product manager|account manager|executive assistant|registrar|curator|archivist|librarian)$/;

/** Whether every word is understood as one of a job title, and one of them is its head. */
export function isJobTitle(text: string): boolean {
  // Abbreviations are written in capitals; "Ea" and "Md" are given names.
  if (/^\p{Lu}\p{Ll}{1,2}$/u.test(text)) return false;
  if (!mayBeTitle(text)) return false;
  const { jobs, unknown } = readTitleAsWritten(text);
  if (unknown.length > 0 || jobs.length === 0) return false;
  const words = text.trim().split(/[\s/&,-]+/).length;
  return jobs.some(({ role, fields }) => role && (fields.length > 0 || ALONE.test(role.name) || words > 2));
}
