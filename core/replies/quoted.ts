/**
 * Parts what somebody wrote from what they quote: first our own emails (our-words.ts) with the headings that programs
 * put over them, then whatever else is marked as quoted or stands behind such a heading. Linear in the text.
 */
import EmailReplyParser from "email-reply-parser";
import { fold } from "../fold.ts";
import { findOurs, type OurEmail } from "./our-words.ts";

export interface Parted {
  written: string;
  /** It begins with a heading over something unmarked: nobody can tell where the answer begins, and nothing is done on it alone. */
  mixed: boolean;
}

/** "From:" at the head of a copy, folded. */
const folded = (words: string) => new Set(words.split(" ").map(fold));
const FROM = folded(
  "from von de da van fra från lähettäjä od от від отправитель відправник kimden gönderen από αποστολέας feladó küldő dela expéditeur remitente remetente mittente afzender absender avsändare avsender afsender nadawca odesílatel odosielateľ expeditor saatja nuo siuntėjas sūtītājs pošiljatelj šalje iz dari pengirim từ จาก ผู้ส่ง प्रेषक 发件人 寄件者 寄件人 發件人 差出人 送信者 送信元 보낸사람 보낸이 من المرسل מאת",
);
/** The other lines of such a head, folded. */
const OTHER_LABELS = folded(
  "sent date to cc bcc subject gesendet datum an betreff kopie envoyé à objet cci enviado enviadoel fecha para asunto data assunto enviadaem inviato oggetto verzonden aan onderwerp skickat till ämne sendt til emne lähetetty vastaanottaja aihe wysłano do temat odesláno komu předmět kopia kopie odoslané predmet elküldve címzett tárgy trimis către subiect saadetud kellele teema išsiųsta kam tema nosūtīts poslano za zadeva naslov отправлено дата кому тема копия надіслано εστάλη προς θέμα ημερομηνία κοιν tarih gönderildi kime konu dikirim tanggal kepada perihal ngày đến chủđề đãgửi 发送时间 收件人 主题 抄送 日期 时间 傳送時間 寄件日期 收件者 主旨 送信日時 日時 宛先 件名 보낸날짜 날짜 받는사람 제목 참조 التاريخ إلى الموضوع تاريخ נשלח תאריך אל נושא दिनांक प्रति विषय วันที่ ถึง เรื่อง replyto importance messageid attachments",
);
const LABEL_LINE = /^[\s>|*_]*([\p{L}\p{M}][\p{L}\p{M}\s.'’-]{0,24}?)\s*\*?\s*[:：]\s*\*?\s*(.*)$/u;

/** "wrote", in some forty languages, folded. */
const WROTE = new RegExp(
  `(?<!\\p{L})(?:${"wrote|writes|schrieb|schreibt|geschrieben|écrit|écrivait|escribió|escribe|escreveu|scritto|scrisse|scrive|schreef|skrev|skrifaði|kirjoitti|napisał|napisała|napisał(a)|napsal|napsala|napsal(a)|napísal|napísala|piše|je napisao|je napisala|írta|a scris|написал|написала|написал(а)|написав|написа|пишет|пише|писал|έγραψε|έγραψαν|γράφει|yazdı|yazmış|كتب|كتبت|כתב|כתבה|ने लिखा|เขียน|đã viết|menulis|rašė|rakstīja|kirjutas|va escriure|idatzi zuen|ysgrifennodd"
    .split("|")
    .map((word) => fold(word).replace(/[()]/g, "\\$&"))
    .join("|")})(?!\\p{L})|写道|寫道|写到|のメール|さんは書きました|${fold("님이 작성|님의 메시지|님이 쓴")}`,
  "u",
);
const TIME_OF_DAY = /\d{1,2}[:.h٫]\d{2}|[٠-٩]{1,2}:[٠-٩]{2}/u;
const YEAR = /(?:19|20)\d{2}|[٠-٩]{4}|\d{1,2}[./-]\d{1,2}[./-]\d{2}/u;
const ADDRESS = /<?[^\s<>@]+@[^\s<>@]+>?/;
const BORDER = /^[\s>*]*[-_=~—–*#•·─━]{5,}\s*$/;
/** "-----Original Message-----", in whatever language. */
const TITLED_BORDER = /^[\s>]*[-_=~—–*]{3,}\s*\p{L}[^\n]{2,70}?\s*[-_=~—–*]{3,}\s*$/u;
const FORWARDED_TITLE =
  /^[\s>]*(?:begin forwarded message|original message|original email|ursprungliche nachricht|weitergeleitete nachricht|message d'origine|message transfere|mensaje original|mensaje reenviado|mensagem original|mensagem encaminhada|messaggio originale|messaggio inoltrato|oorspronkelijk bericht|doorgestuurd bericht|ursprungligt meddelande|oprindelig meddelelse|opprinnelig melding|alkuperainen viesti|oryginalna wiadomosc|wiadomosc oryginalna|puvodni zprava|исходное сообщение|пересылаемое сообщение|eredeti uzenet|mesaj original|orijinal ileti|原始邮件|原始郵件|元のメッセージ|원본 메시지)\s*[:：]?\s*$/u;

/** A heading of one line, or of one that was wrapped once, over what follows. */
export function isAttribution(line: string): boolean {
  const said = line.trim();
  if (said.length > 300 || !/[:：]\s*$|---\s*$|[\])>]\s*$|(?:wrote|escreveu|escribió)\s*$/.test(said))
    return false;
  const isDated = YEAR.test(said) || TIME_OF_DAY.test(said);
  const folded = fold(said);
  if (WROTE.test(folded)) return isDated || ADDRESS.test(said) || said.split(/\s+/).length <= 6;
  return (
    isDated && (ADDRESS.test(said) || (TIME_OF_DAY.test(said) && YEAR.test(said))) && /[:：]\s*$/.test(said)
  );
}

const labelOf = (line: string) => {
  const label = LABEL_LINE.exec(line.slice(0, 200))?.[1];
  return label === undefined ? null : fold(label).replace(/[\s.-]/g, "");
};

/** How many lines from here on are the head of a copied email; 0 for none. */
function headLength(lines: readonly string[], at: number): number {
  const first = labelOf(lines[at] ?? "");
  if (first === null || !(FROM.has(first) || OTHER_LABELS.has(first))) return 0;
  let froms = 0;
  let others = 0;
  let length = 0;
  for (let next = at; next < Math.min(at + 14, lines.length); next++) {
    const line = lines[next] as string;
    const label = labelOf(line);
    if (label !== null && FROM.has(label)) froms++;
    else if (label !== null && OTHER_LABELS.has(label)) others++;
    else if (line.trim() === "" && others === 0) continue;
    else break;
    length = next - at + 1;
  }
  return froms >= 1 && others >= 1 && froms + others >= 2 ? length : 0;
}

/** Whether something quoted begins at this line, by a heading alone, and how many lines the heading has. */
function headingAt(lines: readonly string[], at: number): number {
  const line = (lines[at] ?? "").slice(0, 400);
  if (line.trim() === "") return 0;
  const head = headLength(lines, at);
  if (head > 0) return head;
  if (isAttribution(line)) return 1;
  const next = (lines[at + 1] ?? "").slice(0, 400);
  // Programs wrap at 76 characters, often within the address.
  if (
    line.length > 25 &&
    !/[.!?]\s*$/.test(line) &&
    next.trim() !== "" &&
    isAttribution(`${line.trim()} ${next.trim()}`)
  )
    return 2;
  const folded = fold(line);
  if (FORWARDED_TITLE.test(folded)) return 1;
  return TITLED_BORDER.test(line) && !isAttribution(line) ? 1 : 0;
}

/** The reply parser is quadratic in blank and in long lines; it gets what people write by hand. */
const BY_HAND = 20_000;
const LONGEST_LINE = 1_000;
const MOST_LINES = 5_000;

export function partQuoted(body: string, ours: readonly OurEmail[]): Parted {
  const all = body.split("\n");
  const lines = all.slice(0, MOST_LINES);
  const kept = withoutOurs(lines, ours);
  const { written, mixed } = withoutHeaded(withoutMarked(kept));
  const text = written
    .join("\n")
    .replace(/\n{3,}/g, "\n\n")
    .trim();
  return { written: text, mixed: mixed && text !== "" };
}

/** Without our own words, and the heading over them. */
function withoutOurs(lines: readonly string[], ours: readonly OurEmail[]): string[] {
  if (ours.length === 0) return [...lines];
  const covered = findOurs(lines, ours);
  if (covered.size === 0) return [...lines];
  const names = new NamesUs(ours);
  const gone = new Set<number>();
  const rest = lines.map((line, at) => {
    const spans = covered.get(at);
    if (!spans) return line;
    let left = "";
    let end = 0;
    for (const [from, to] of spans) {
      left += names.withoutHeading(line.slice(end, from));
      end = to;
    }
    left += line.slice(end);
    // What is left of a line of ours: its marks, its stops, an initial.
    if (!/\p{L}{3}|\p{Script=Han}|\p{N}/u.test(left) || /^\s*\S{1,4}>/.test(left)) {
      gone.add(at);
      return "";
    }
    return left;
  });
  for (const at of covered.keys()) if (gone.has(at) && !gone.has(at - 1)) dropHeading(lines, at, names, gone);
  return rest.filter((_, at) => !gone.has(at));
}

/** How far above our words their heading may begin. */
const HEADING_LINES = 12;

/** Takes the lines above `at` out that are a heading over it: they name us, or lead up to a line that does. */
function dropHeading(lines: readonly string[], at: number, names: NamesUs, gone: Set<number>): void {
  let top = at;
  for (let line = at - 1; line >= Math.max(0, at - HEADING_LINES) && !gone.has(line); line--) {
    const text = (lines[line] as string).slice(0, 400);
    if (text.trim() === "") continue;
    const labelled = labelOf(text) !== null;
    const isClose = top === at || line === top - 1 || labelled;
    if (names.in(text) && (labelled || isShortLine(text) || isAttribution(text) || /[:：]\s*$/.test(text)))
      top = line;
    else if (
      isAttribution(text) ||
      BORDER.test(text) ||
      TITLED_BORDER.test(text) ||
      FORWARDED_TITLE.test(fold(text))
    )
      top = line;
    else if (top === at && /[:：]\s*$/.test(text) && text.trim().split(/\s+/).length <= 12) top = line;
    else if (!labelled || !isClose) break;
  }
  for (let line = top; line < at; line++) gone.add(line);
}

const isShortLine = (line: string) => line.trim().split(/\s+/).length <= 14;

/** Knows the names, addresses and subjects that stand in a heading over an email of ours. */
class NamesUs {
  private readonly words: string[];

  constructor(ours: readonly OurEmail[]) {
    this.words = [
      ...new Set(
        ours
          .flatMap(({ fromName, fromAddress, recipient, subject }) => [
            fromName,
            fromAddress,
            recipient,
            subject,
          ])
          .map((each) => fold(each).replace(/\s+/g, " ").trim())
          .filter((each) => each.length > 3),
      ),
    ];
  }

  in(line: string): boolean {
    const folded = fold(line).replace(/\s+/g, " ");
    return this.words.some((each) => folded.includes(each));
  }

  /** What stands in a line before our words, without "From: … Subject: …" at its end. */
  withoutHeading(before: string): string {
    if (!this.in(before)) return before;
    const folded = fold(before);
    const first = Math.min(...this.words.map((each) => folded.indexOf(each)).filter((at) => at >= 0));
    const label = before.slice(0, first).search(/(?:[-_*"<\s]|\p{L}+\s*[:：])+$/u);
    return before.slice(0, label < 0 ? first : label);
  }
}

/** A mark that at least two lines in a row begin with, behind something written or before it. */
const MARK = /^\s{0,3}(>|\||:(?!\))|\p{Lu}{1,4}>)\s?/u;
const INDENTED = /^(?: {4,}|\t)\S/;

function withoutMarked(lines: readonly string[]): string[] {
  const drop = new Set<number>();
  for (let at = 0; at < lines.length; at++) {
    const mark = MARK.exec(lines[at] as string)?.[1];
    if (mark === undefined) continue;
    let end = at;
    while (end < lines.length && MARK.exec(lines[end] as string)?.[1] === mark) end++;
    if (end - at < 2 && mark !== ">") continue;
    for (let line = at; line < end; line++) drop.add(line);
    // The heading over what is marked goes with it, wherever it stands.
    for (let line = at - 1, seen = 0; line >= 0 && seen < 2; line--) {
      const text = lines[line] as string;
      if (text.trim() === "") continue;
      seen++;
      if (drop.has(line)) break;
      const wrapped = `${(lines[line - 1] ?? "").trim()} ${text.trim()}`;
      if (isAttribution(text)) {
        drop.add(line);
        break;
      }
      if (
        seen === 1 &&
        isAttribution(wrapped) &&
        wrapped.length < 300 &&
        !/[.!?]$/.test((lines[line - 1] ?? "").trim())
      ) {
        drop.add(line);
        drop.add(line - 1);
      }
      break;
    }
    at = end - 1;
  }
  return lines.filter((_, at) => !drop.has(at));
}

/** Up to the first heading; one at the very top, with something unmarked under it, leaves all of it standing. */
function withoutHeaded(lines: readonly string[]): { written: string[]; mixed: boolean } {
  let at = lines.findIndex((line) => line.trim() !== "");
  let mixed = false;
  for (; at >= 0 && at < lines.length; at++) {
    const heading = headingAt(lines, at);
    const isBorder = BORDER.test(lines[at] as string);
    if (heading === 0 && !isBorder) continue;
    const hasWritten = lines.slice(0, at).some((line) => /[\p{L}\p{N}\p{Emoji}]/u.test(line));
    if (hasWritten) return { written: lines.slice(0, at), mixed };
    if (heading > 0) {
      mixed = lines.slice(at + heading).some((line) => /\p{L}/u.test(line));
      at += heading - 1;
    }
  }
  const isIndented = lines.findIndex(
    (line, index) => index > 0 && INDENTED.test(line) && INDENTED.test(lines[index + 1] ?? ""),
  );
  if (isIndented > 0 && lines.slice(0, isIndented).some((line) => /[\p{L}\p{N}]/u.test(line)))
    return { written: lines.slice(0, isIndented), mixed };
  return { written: [...lines], mixed };
}

/** What a well-tried reader of replies takes off besides. */
export function withoutSignature(text: string): string {
  const isByHand = text.length <= BY_HAND && !text.split("\n").some((line) => line.length > LONGEST_LINE);
  return isByHand ? new EmailReplyParser().read(text).getVisibleText().trim() : text;
}
