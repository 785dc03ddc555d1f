/** Reports as mail servers and their owners write them: what each is. The patterns were mended by these, so all of them pass. */
import { describe, expect, it } from "vitest";
import { type IncomingMessage, sortIncoming } from "./incoming.ts";

/** What a message is; of a bounce, whether it is for good, for now, or for the sender's sake. */
function kindOf(message: Partial<IncomingMessage>): string {
  const kind = sortIncoming({
    headers: new Map(),
    fromAddress: "mailer-daemon@mx.kai.example",
    subject: "Undelivered Mail Returned to Sender",
    text: "",
    deliveryStatus: null,
    ...message,
  });
  if (kind.kind !== "bounce") return kind.kind;
  const [failure] = kind.failures;
  return failure.hard ? "hard" : failure.policy ? "policy" : "soft";
}

/** The part for programs (RFC 3464). */
const status = (code: string, words: string, action = "failed") =>
  `Reporting-MTA: dns; mx.kai.example\n\nFinal-Recipient: rfc822;nell@kai.example\nAction: ${action}\nStatus: ${code}\nDiagnostic-Code: smtp; ${words}\n`;

const CODED: [kind: string, code: string, words: string, action?: string][] = [
  [
    "hard",
    "5.1.1",
    "550 5.1.1 <nell@kai.example>: Recipient address rejected: User unknown in virtual mailbox table",
  ],
  ["hard", "5.0.0", "550 No such recipient here"],
  ["hard", "5.1.10", "550 5.1.10 RESOLVER.ADR.RecipientNotFound; Recipient not found by SMTP address lookup"],
  [
    "hard",
    "5.4.4",
    "Host or domain name not found. Name service error for name=kai.example type=AAAA: Host not found",
  ],
  ["hard", "5.1.2", "550 5.1.2 Host unknown"],
  ["hard", "5.2.1", "550 5.2.1 The email account that you tried to reach is disabled."],
  ["hard", "5.5.0", "554 delivery error: This user doesn't have a kai.example account"],
  ["hard", "5.1.6", "551 5.1.6 Recipient no longer on server"],
  ["hard", "5.0.0", "550 unrouteable address"],
  ["hard", "5.7.1", "550 5.7.1 No such user!"],
  ["hard", "5.4.1", "550 5.4.1 Recipient address rejected: Access denied. AS(201806281)"],
  ["hard", "5.1.3", "501 5.1.3 Bad recipient address syntax"],
  ["hard", "5.7.0", "550 5.1.1 mailbox unavailable"],
  ["soft", "5.2.2", "552 5.2.2 Mailbox full"],
  ["soft", "4.2.2", "452 4.2.2 The email account is over quota"],
  ["soft", "5.0.0", "552 Requested mail action aborted: exceeded storage allocation"],
  ["soft", "4.4.7", "Delivery time expired: message could not be delivered for more than 5 days"],
  ["soft", "4.4.1", "connect to mx.kai.example[192.0.2.4]:25: Connection timed out"],
  ["soft", "5.3.4", "552 5.3.4 Message size exceeds fixed maximum message size"],
  ["soft", "5.4.6", "554 5.4.6 Too many hops"],
  ["soft", "5.2.2", "554 5.2.2 mailbox full; STOREDRV.Deliver; quota exceeded"],
  ["soft", "4.7.1", "451 4.7.1 Greylisting in action, please come back later"],
  ["policy", "5.7.1", "554 5.7.1 Service unavailable; Client host [192.0.2.9] blocked using bl.list.example"],
  [
    "policy",
    "5.7.26",
    "550 5.7.26 Unauthenticated email from quillwater.example is not accepted due to domain's DMARC policy",
  ],
  ["policy", "5.0.0", "550 Message rejected as spam by content filter"],
  ["policy", "5.7.606", "550 5.7.606 Access denied, banned sending IP"],
  ["policy", "5.7.23", "550 5.7.23 SPF validation failed"],
  [
    "policy",
    "5.0.0",
    "554 Your access to this mail system has been rejected due to the sending MTA's poor reputation.",
  ],
  ["policy", "5.7.1", "550 5.7.1 Our system has detected that this message is likely unsolicited mail."],
  [
    "policy",
    "5.7.0",
    "552 5.7.0 This message was blocked because its content presents a potential security issue",
  ],
  ["delay", "4.4.1", "connect to mx.kai.example: Connection timed out", "delayed"],
  ["receipt", "2.0.0", "250 ok", "delivered"],
  ["hard", "5.1.1", "x-unix; user not found"],
  ["hard", "5.7.129", "550 5.1.1 The recipient's address is unknown"],
  ["hard", "5.0.0", "550 Requested action not taken: mailbox unavailable"],
  ["hard", "5.1.1", "550 sorry, no mailbox here by that name. (#5.1.1)"],
  ["hard", "5.0.0", "550 Unknown local part nell in <nell@kai.example>"],
  ["hard", "5.0.0", "553 sorry, that domain isn't in my list of allowed rcpthosts"],
  ["hard", "5.0.0", "550 <nell@kai.example>, Recipient unknown"],
  ["hard", "5.0.0", "550 Invalid mailbox"],
  ["hard", "5.0.0", "550 Address does not exist / Adresse existiert nicht"],
  ["soft", "5.2.3", "552 5.2.3 Message exceeds local size limit"],
  ["soft", "4.3.2", "421 4.3.2 Service not available, closing transmission channel"],
  ["soft", "4.0.0", "450 Requested mail action not taken: mailbox busy"],
  ["soft", "5.3.0", "554 5.3.0 mail server temporarily rejected message"],
  ["policy", "5.0.0", "554 5.7.0 Reject, id=1 - SPAM"],
  [
    "policy",
    "5.7.509",
    "550 5.7.509 Access denied, sending domain does not pass DMARC verification and has a DMARC policy of reject",
  ],
  ["policy", "5.0.0", "550 High probability of spam"],
  ["policy", "5.0.0", "550 Administrative prohibition"],
  ["policy", "5.7.1", "550 5.7.1 Relaying denied"],
  ["policy", "5.7.1", "550 5.7.1 rejected by recipient: sender is on recipient's blocklist"],
  [
    "hard",
    "5.1.1",
    "550-5.1.1 The email account that you tried to reach does not exist. Please try double-checking the recipient's email address for typos",
  ],
  ["hard", "5.1.1", '550 5.1.1 recipient rejected: undeliverable address: unknown user: "nell"'],
  ["hard", "5.4.310", "550 5.4.310 DNS domain kai.example does not exist"],
  ["hard", "5.0.0", "550 Account closed"],
  ["hard", "5.0.0", "550 user is no longer with us"],
  ["hard", "5.0.0", "554 No account by that name"],
  ["hard", "5.1.0", "550 5.1.0 Address rejected"],
  ["hard", "5.1.1", "550 Benutzer unbekannt"],
  [
    "hard",
    "5.0.0",
    "550 Verification failed: The mail server could not deliver mail to nell@kai.example. The account or domain may not exist, they may be blacklisted, or missing the proper dns entries.",
  ],
  ["hard", "5.0.0", "551 User not local; please try <ed@kai.example>"],
  ["hard", "5.1.2", "The domain kai.example does not accept mail (nullMX)"],
  ["hard", "5.2.1", "550 5.2.1 Mailbox not active"],
  ["soft", "5.0.0", "550 Mailbox is full"],
  ["soft", "4.2.0", "450 4.2.0 Recipient temporarily unavailable"],
  ["soft", "4.4.2", "conversation with mx.kai.example timed out while sending end of data"],
  ["soft", "5.2.0", "550 5.2.0 STOREDRV.Deliver.Exception: quota exceeded for mailbox"],
  [
    "soft",
    "4.4.3",
    "Host or domain name not found. Name service error for name=kai.example type=MX: Host not found, try again",
  ],
  ["soft", "4.7.0", "421 4.7.0 Too many connections, try again later"],
  ["soft", "5.2.2", "Le quota de la boîte est dépassé"],
  ["policy", "5.0.0", "550 Sender verify failed"],
  ["policy", "5.0.0", "550 Mail content denied"],
  ["policy", "5.0.0", "550 5.7.1 Message contains spam or virus"],
  ["policy", "5.0.0", "554 Rejected due to virus"],
  ["policy", "5.7.0", "550 5.7.0 From address is not verified"],
  ["policy", "5.0.0", "553 IP 192.0.2.9 is listed in our DNSBL"],
  ["policy", "5.7.1", "550 5.7.1 Delivery not authorized, message refused"],
  [
    "policy",
    "5.7.133",
    "550 5.7.133 RESOLVER.RST.SenderNotAuthenticatedForGroup; authentication required; the sender is not authorized to send to this group",
  ],
  ["policy", "5.6.0", "550 5.6.0 Message classified as junk"],
];

const WRITTEN: [kind: string, from: string, subject: string, text: string, machine?: "machine"][] = [
  [
    "delay",
    "mailer-daemon@q.example",
    "Warning: message 1qX delayed 24 hours",
    "This message was created automatically by mail delivery software.\nA message that you sent has not yet been delivered to one or more of its recipients after more than 24 hours on the queue.\n\nThe address to which the message has not yet been delivered is:\n  nell@kai.example\n\nNo action is required on your part. Delivery attempts will continue for some time.",
  ],
  [
    "delay",
    "mailer-daemon@q.example",
    "Delivery Status Notification (Delay)",
    "This is an automatically generated Delivery Status Notification\n\nTHIS IS A WARNING MESSAGE ONLY.\n\nYOU DO NOT NEED TO RESEND YOUR MESSAGE.\n\nDelivery to the following recipient has been delayed:\n\n     nell@kai.example\n\nMessage will be retried for 2 more day(s)",
  ],
  [
    "delay",
    "postmaster@q.example",
    "Zustellung verzögert",
    "Ihre Nachricht an nell@kai.example konnte noch nicht zugestellt werden. Es wird weiter versucht.",
    "machine",
  ],
  [
    "hard",
    "mailer-daemon@q.example",
    "failure notice",
    "Hi. This is the mail program at q.example.\nI'm afraid I wasn't able to deliver your message to the following addresses.\nThis is a permanent error; I've given up. Sorry it didn't work out.\n\n<nell@kai.example>:\n192.0.2.1 does not like recipient.\nRemote host said: 550 5.1.1 unknown user\nGiving up on 192.0.2.1.",
  ],
  [
    "hard",
    "mailer-daemon@q.example",
    "Mail delivery failed: returning message to sender",
    "This message was created automatically by mail delivery software.\n\nA message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error. The following address(es) failed:\n\n  nell@kai.example\n    all relevant MX records point to non-existent hosts",
    "machine",
  ],
  [
    "hard",
    "postmaster@kai.example",
    "Undeliverable: One question",
    "Your message to nell@kai.example couldn't be delivered.\n\nnell wasn't found at kai.example.",
    "machine",
  ],
  [
    "hard",
    "postmaster@kai.example",
    "Unzustellbar: Eine Frage",
    "Ihre Nachricht an nell@kai.example konnte nicht zugestellt werden.\n\nDer Empfänger existiert nicht.",
    "machine",
  ],
  [
    "hard",
    "postmaster@kai.example",
    "Non remis : Une question",
    "Votre message à nell@kai.example n'a pas pu être remis.\n\nDestinataire inconnu.",
    "machine",
  ],
  [
    "soft",
    "mailer-daemon@kai.example",
    "Undelivered Mail Returned to Sender",
    "I'm sorry to have to inform you that your message could not\nbe delivered.\n\n<nell@kai.example>: host mx said: 452 4.2.2 user over quota (in reply to RCPT TO command)",
  ],
  [
    "policy",
    "mailer-daemon@kai.example",
    "Undelivered Mail Returned to Sender",
    "I'm sorry\n\n<nell@kai.example>: host mx said: 554 5.7.1 Message rejected under suspicion of SPAM (in reply to end of DATA command)",
  ],
  [
    "receipt",
    "nell@kai.example",
    "Read: One question",
    "Your message\n\nTo: Nell\nSubject: One question\n\nwas read on 4 June 2026 10:00.",
  ],
  [
    "left",
    "nell@kai.example",
    "Automatic reply: One question",
    "I no longer work at Kai Museum. Please contact Ed Norris, ed@kai.example.",
    "machine",
  ],
  [
    "left",
    "nell@kai.example",
    "Re: One question",
    "Nell Otter has left the organisation. For all enquiries please write to info@kai.example.",
    "machine",
  ],
  [
    "left",
    "nell@kai.example",
    "Automatische Antwort: Frage",
    "Frau Otter ist nicht mehr für uns tätig. Bitte wenden Sie sich an Herrn Pohl (pohl@kai.example).",
  ],
  [
    "left",
    "nell@kai.example",
    "Réponse automatique : question",
    "Je ne travaille plus au musée depuis le 1er mai. Merci de contacter accueil@kai.example.",
  ],
  [
    "left",
    "nell@kai.example",
    "Respuesta automática",
    "Ya no formo parte de la institución. Escriban a info@kai.example.",
  ],
  [
    "left",
    "nell@kai.example",
    "Automatic reply",
    "Thank you for your message. As of 1 May I have retired from the museum. My successor is Ann Lee (ann@kai.example).",
  ],
  [
    "left",
    "nell@kai.example",
    "Risposta automatica",
    "La informo che non lavoro più presso il museo dal 1 maggio.",
  ],
  ["automatic", "nell@kai.example", "Automatic reply: One question", "I am away until 12 June."],
  [
    "automatic",
    "nell@kai.example",
    "Re: One question",
    "Thanks for your message, we will answer within two days.",
    "machine",
  ],
  [
    "challenge",
    "nell@kai.example",
    "Please confirm your message",
    "I use a sender verification service. To have your message delivered please click https://verify.kai.example/abc and prove you are human.",
    "machine",
  ],
  [
    "challenge",
    "spamfilter@kai.example",
    "Re: One question [confirm]",
    "Your message is being held. Please confirm that you sent it by replying to this email; it will then be delivered to nell@kai.example.",
  ],
  [
    "challenge",
    "filter@kai.example",
    "Bestätigung erforderlich",
    "Bitte bestätigen Sie, dass Sie ein Mensch sind: https://f.kai.example/x. Danach wird Ihre Nachricht zugestellt.",
  ],
  [
    "person",
    "nell@kai.example",
    "Re: One question",
    "My mailbox was full last week, could you send it again?",
  ],
  ["person", "nell@kai.example", "Re: Undeliverable art", "Nice subject. What does it cost?"],
  ["person", "postmaster@kai.example", "Re: One question", "I run the mail here. Who gave you our address?"],
  ["person", "nell@kai.example", "Re: delayed loans", "We will try again next year, do not resend."],
  [
    "hard",
    "mailer-daemon@q.example",
    "Returned mail: see transcript for details",
    "   ----- The following addresses had permanent fatal errors -----\n<nell@kai.example>\n    (reason: 550 Invalid recipient)\n\n   ----- Transcript of session follows -----",
  ],
  [
    "left",
    "nell@kai.example",
    "Automatic reply",
    "Please note that Nell Otter no longer works at this museum.",
  ],
  [
    "left",
    "nell@kai.example",
    "Autosvar",
    "Nell Otter har slutat hos oss. Kontakta Eva Ek, eva@kai.example.",
  ],
  ["left", "nell@kai.example", "自動応答", "5月末で退職いたしました。後任は佐藤です。"],
  ["left", "nell@kai.example", "Автоответ", "Я больше не работаю в музее. Пишите Ольге: olga@kai.example"],
  [
    "left",
    "nell@kai.example",
    "Re: q",
    "This email address is no longer in use. Please write to info@kai.example.",
    "machine",
  ],
  [
    "left",
    "nell@kai.example",
    "Automatisch antwoord",
    "Ik werk niet meer bij het museum. Mijn opvolger is Jan de Wit.",
  ],
  ["automatic", "nell@kai.example", "Abwesenheit", "Ich bin bis Montag nicht im Haus."],
  ["automatic", "no-reply@kai.example", "Re: q", "Ticket 12 created."],
  [
    "challenge",
    "antispam@kai.example",
    "Verify your email",
    "This mailbox is protected. Please verify your email address at https://x.example/v to release your message.",
  ],
  ["person", "nell@kai.example", "Re: q", "Your last mail said it could not be delivered. What happened?"],
  [
    "hard",
    "mailer-daemon@kai.example",
    "Returned mail",
    "The original message was received at Mon\n\n----- The following addresses had permanent fatal errors -----\n<nell@kai.example>\n\n----- Transcript of session follows -----\n... while talking to mx.kai.example:\n>>> RCPT To:<nell@kai.example>\n<<< 550 5.1.1 No such user",
  ],
  [
    "soft",
    "mailer-daemon@kai.example",
    "Returned mail",
    "Delivery to the following recipient failed permanently:\n\n  nell@kai.example\n\nReason: the recipient's mailbox is over its storage limit",
  ],
  [
    "hard",
    "mailer-daemon@kai.example",
    "Message non distribué",
    "Le message n'a pas pu être distribué à nell@kai.example: cette adresse n'existe pas.",
  ],
];

describe("a mail server's report", () => {
  it.each(CODED)("is %s: %s %s", (kind, code, words, action) => {
    expect(kindOf({ deliveryStatus: status(code, words, action) })).toBe(kind);
  });

  it.each(WRITTEN)("is %s, from %s: %s", (kind, fromAddress, subject, text, machine) => {
    const headers = new Map(machine ? [["auto-submitted", "auto-replied"]] : []);
    expect(kindOf({ fromAddress, subject, text, headers })).toBe(kind);
  });

  it.each(["abuse", "fraud", "opt-out"])("is a complaint where the person pressed a button: %s", (type) => {
    const feedback = `Feedback-Type: ${type}\nVersion: 1\nOriginal-Rcpt-To: <nell@kai.example>\n`;
    expect(kindOf({ feedback })).toBe("complaint");
  });

  it("is a receipt where the email was shown", () => {
    const disposition =
      "Final-Recipient: rfc822;nell@kai.example\nDisposition: manual-action/MDN-sent-manually; displayed\n";
    expect(kindOf({ disposition })).toBe("receipt");
  });
});
