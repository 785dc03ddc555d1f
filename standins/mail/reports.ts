/** Reports that mail servers send about an email: undelivered (RFC 3464), or reported as unwanted (RFC 5965). */

export type ReportKind = "unknown" | "full" | "policy" | "complaint";

interface About {
  recipient: string;
  mailbox: string;
  messageId: string;
  subject: string;
}

const WORDS: Record<Exclude<ReportKind, "complaint">, { status: string; words: string }> = {
  unknown: { status: "5.1.1", words: "550 5.1.1 no such user here" },
  full: { status: "4.2.2", words: "452 4.2.2 The mailbox is full, we gave up after four days" },
  policy: { status: "5.7.1", words: "554 5.7.1 Message refused by our content policy" },
};

const BOUNDARY = "report-part";

function parts(head: readonly string[], type: string, bodies: readonly (readonly string[])[]): Buffer {
  const lines = [
    ...head,
    "MIME-Version: 1.0",
    `Content-Type: multipart/report; report-type=${type}; boundary="${BOUNDARY}"`,
    "",
    ...bodies.flatMap((body) => [`--${BOUNDARY}`, ...body, ""]),
    `--${BOUNDARY}--`,
    "",
  ];
  return Buffer.from(lines.join("\r\n"));
}

const plain = (text: string) => ["Content-Type: text/plain; charset=utf-8", "", text];
const returned = ({ messageId, subject }: About) => [
  "Content-Type: text/rfc822-headers",
  "",
  `Message-ID: ${messageId}`,
  `Subject: ${subject}`,
];
const dated = (now: number) => `Date: ${new Date(now).toUTCString().replace("GMT", "+0000")}`;

export function reportOf(kind: ReportKind, about: About, now: number): Buffer {
  const domain = about.recipient.split("@")[1];
  if (kind === "complaint")
    return parts(
      [
        `From: Abuse desk <abuse@${domain}>`,
        `To: ${about.mailbox}`,
        `Subject: Complaint about: ${about.subject}`,
        dated(now),
        `Message-ID: <complaint.${now}.${about.recipient}>`,
      ],
      "feedback-report",
      [
        plain("This is an abuse report for an email that our user marked as unwanted."),
        [
          "Content-Type: message/feedback-report",
          "",
          "Feedback-Type: abuse",
          `User-Agent: ${domain} desk/1.0`,
          "Version: 1",
          `Original-Rcpt-To: ${about.recipient}`,
        ],
        returned(about),
      ],
    );
  const { status, words } = WORDS[kind];
  return parts(
    [
      `From: Mail Delivery System <mailer-daemon@${domain}>`,
      `To: ${about.mailbox}`,
      "Subject: Undelivered Mail Returned to Sender",
      dated(now),
      `Message-ID: <report.${now}.${about.recipient}>`,
      "Auto-Submitted: auto-replied",
    ],
    "delivery-status",
    [
      plain(`Your message to <${about.recipient}> could not be delivered: ${words}.`),
      [
        "Content-Type: message/delivery-status",
        "",
        `Reporting-MTA: dns; mx.${domain}`,
        "",
        `Final-Recipient: rfc822; ${about.recipient}`,
        "Action: failed",
        `Status: ${status}`,
        `Diagnostic-Code: smtp; ${words}`,
      ],
      returned(about),
    ],
  );
}
