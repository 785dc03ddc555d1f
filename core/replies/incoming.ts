/**
 * What an incoming message is, before anybody reads it: a person's words, a machine's, or a report
 * that an email did not arrive.
 */
export interface IncomingMessage {
  /** Header names in lower case. */
  headers: ReadonlyMap<string, string>;
  fromAddress: string;
  subject: string;
  text: string;
  /** The text of the message/delivery-status part (RFC 3464), if there is one. */
  deliveryStatus: string | null;
}

export type IncomingKind =
  | { kind: "person" }
  | { kind: "automatic"; because: string }
  | { kind: "bounce"; hard: boolean; recipient: string | null; status: string | null; words: string };

/** Subjects that automatic answers carry where their software sets no header. */
const AUTOMATIC_SUBJECTS = [
  /^(re: )?auto(matic|mated)?[ -]?(reply|response|answer)/i,
  /^(re: )?out[ -]of[ -](the[ -])?office/i,
  /^(re: )?(abwesen|automatische antwort)/i,
  /^(re: )?(réponse automatique|absence du bureau)/i,
  /^(re: )?(respuesta automática|fuera de la oficina)/i,
  /^(re: )?(resposta automática|ausência|fora do escritório)/i,
  /^(re: )?(risposta automatica|fuori sede)/i,
  /^(re: )?(automatisch antwoord|afwezig)/i,
  /^(re: )?(autosvar|automatisk svar|fraværende|frånvaro)/i,
  /^(re: )?自動応答|^(re: )?自动回复/i,
];

/** Who reports that an email did not arrive, by the names that RFC 2142 5 and custom give them. */
const REPORTERS = /^(mailer-daemon|mail-daemon|postmaster)@/;

/** Sorts by RFC 3464 (delivery reports), RFC 3834 (automatic answers), then by the usual subjects. */
export function sortIncoming(message: IncomingMessage): IncomingKind {
  const header = (name: string) => message.headers.get(name)?.toLowerCase() ?? "";
  if (message.deliveryStatus !== null) return readDeliveryStatus(message.deliveryStatus);
  if (REPORTERS.test(message.fromAddress))
    return readPlainReport(message.text, header("x-failed-recipients"));

  const submitted = header("auto-submitted");
  if (submitted !== "" && !submitted.startsWith("no"))
    return { kind: "automatic", because: `Auto-Submitted: ${submitted}` };
  if (
    /^(all|oof|autoreply|dr|rn|nrn)/.test(header("x-auto-response-suppress")) &&
    header("x-autoreply") !== ""
  )
    return { kind: "automatic", because: "X-Autoreply" };
  for (const name of ["x-autoreply", "x-autorespond", "x-auto-reply"])
    if (message.headers.has(name)) return { kind: "automatic", because: name };
  if (/^(bulk|junk|auto_reply)/.test(header("precedence")))
    return { kind: "automatic", because: `Precedence: ${header("precedence")}` };
  if (AUTOMATIC_SUBJECTS.some((usual) => usual.test(message.subject.trim())))
    return { kind: "automatic", because: `the subject “${message.subject.trim()}”` };
  return { kind: "person" };
}

/**
 * Reads a report that is written for people only, as older mail servers do: by the codes of RFC 5321 4.2 and
 * RFC 3463, wherever they stand.
 */
function readPlainReport(text: string, failed: string): IncomingKind {
  const line = (code: RegExp) => text.split("\n").find((each) => code.test(each)) ?? "";
  const forGood = line(/(^|[\s(#])(5\d\d[ -]|#?5\.\d{1,3}\.\d{1,3}\b)/);
  const forNow = line(/(^|[\s(#])(4\d\d[ -]|#?4\.\d{1,3}\.\d{1,3}\b)/);
  const words = (forGood || forNow).trim();
  if (words === "") return { kind: "automatic", because: "a mail server's report" };
  const recipient = failed || (text.match(/<([^<>\s]+@[^<>\s]+)>/)?.[1] ?? "");
  return {
    kind: "bounce",
    hard: forGood !== "",
    recipient: recipient.toLowerCase() || null,
    status: words.match(/[45]\.\d{1,3}\.\d{1,3}/)?.[0] ?? null,
    words,
  };
}

function readDeliveryStatus(text: string): IncomingKind {
  const field = (name: string) =>
    text.match(new RegExp(`^${name}:[ \\t]*(.+(?:\\r?\\n[ \\t]+.+)*)`, "im"))?.[1]?.trim() ?? null;
  const action = field("Action")?.toLowerCase() ?? "";
  if (action !== "failed" && action !== "delayed")
    return { kind: "automatic", because: `a delivery report (“${action}”)` };
  const status = field("Status")?.match(/\d\.\d+\.\d+/)?.[0] ?? null;
  const recipient = (field("Final-Recipient") ?? field("Original-Recipient"))
    ?.replace(/^[^;]*;\s*/, "")
    .replace(/^<|>$/g, "")
    .toLowerCase();
  return {
    kind: "bounce",
    // A full mailbox or a greylist (4.x.x, or "delayed") passes; 5.x.x does not.
    hard: action === "failed" && !(status?.startsWith("4") ?? false),
    recipient: recipient ?? null,
    status,
    words:
      field("Diagnostic-Code")
        ?.replace(/^smtp;\s*/i, "")
        .replace(/\s+/g, " ") ??
      status ??
      "",
  };
}
