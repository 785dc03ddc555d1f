/** What recipients write back. Each kind is put together from parts, so that hardly two are alike. */
import type { ReplyKind } from "./personas.ts";

const GREETINGS = [
  "Dear {sender},",
  "Hello {sender},",
  "Hi {sender},",
  "{sender},",
  "Good morning {sender},",
];
const CLOSINGS = [
  "Best regards,\n{name}",
  "Kind regards,\n{name}",
  "Best,\n{first}",
  "{first}",
  "Thanks,\n{first}",
  "With best wishes,\n{name}",
];

const OPENINGS: Record<ReplyKind, string[]> = {
  interested: [
    "your timing is good: we are comparing loggers for the autumn loans.",
    "thank you for this. We lost a lender over missing readings last year, so yes, I would like to hear more.",
    "this reached me the week our old recorder gave up.",
    "we have been doing this by hand in a spreadsheet, and I am tired of it.",
    "our conservator forwarded me your note and we are both curious.",
    "I read your sheet with interest; two of our galleries would fit.",
  ],
  question: [
    "a question before I pass this on:",
    "could be useful. One thing is not clear to me:",
    "thanks. Before we talk, could you tell me:",
    "I am not sure yet.",
  ],
  not_now: [
    "this is not the moment: our budget for the year is spent.",
    "we are in the middle of an installation and I cannot look at this now.",
    "we are moving the store this summer, so everything else waits.",
    "we signed with another supplier in January for a year.",
  ],
  not_interested: [
    "thank you, but we are well served with what we have.",
    "we do not need this.",
    "we have our own system, built in-house, and no plan to change it.",
    "I have looked at it and it is not for us.",
  ],
  wrong_person: [
    "I think you want somebody else: I look after education.",
    "I changed departments in spring and no longer deal with this.",
    "this is not my area.",
    "you have reached the wrong desk.",
  ],
  opt_out_words: [
    "please take me off your list.",
    "do not write to me again, please.",
    "I never asked for this. Remove my address.",
    "please stop these emails.",
  ],
};

const FOLLOWS: Record<ReplyKind, string[]> = {
  interested: [
    "Could you show me how the lender's sheet is produced? Thursday after 14:00 would suit me.",
    "What would twelve sensors cost, and how long do the batteries last?",
    "Could we speak early next week?",
    "Please send me some times.",
    "I would want our registrar on the call as well.",
  ],
  question: [
    "does it work in a case without a network?",
    "how often do the sensors have to be calibrated, and by whom?",
    "Is the data kept with you or with us?",
    "Do you have anybody with a stone building like ours among your customers?",
    "What happens to the readings when the power goes?",
  ],
  not_now: [
    "Try me again in the autumn.",
    "Write to me in January, when the new budget opens.",
    "Perhaps after the summer.",
    "Ask again in six months.",
  ],
  not_interested: ["All the best with it.", "Good luck elsewhere.", "No need to follow up.", ""],
  wrong_person: [
    "Our head of collections would be the one to ask.",
    "The facilities office decides that.",
    "You may want to ask the registrar's office.",
    "",
  ],
  opt_out_words: ["", "Thank you.", "I mean it."],
};

const fill = (text: string, names: { sender: string; name: string; first: string }) =>
  text.replace(/\{(\w+)\}/g, (_, key: "sender" | "name" | "first") => names[key]);

export function replyText(
  kind: ReplyKind,
  names: { sender: string; name: string; first: string },
  draw: (what: string) => number,
): string {
  const one = (from: string[], what: string) => from[Math.floor(draw(what) * from.length)] as string;
  const greeting = one(GREETINGS, "greeting");
  const opening = one(OPENINGS[kind], "opening");
  const body = `${opening} ${one(FOLLOWS[kind], "follow")}`.trim();
  return fill(`${greeting}\n\n${body}\n\n${one(CLOSINGS, "closing")}`, names);
}

export function awayText(until: string, names: { name: string }, draw: (what: string) => number): string {
  const forms = [
    `Thank you for your message. I am out of the office until ${until} and will answer when I am back.\n\n${names.name}`,
    `I am on leave until ${until} with no access to email.\n\n${names.name}`,
    `I am travelling with a loan and back at my desk on ${until}. In urgent cases please write to the front desk.\n\n${names.name}`,
  ];
  return forms[Math.floor(draw("away-form") * forms.length)] as string;
}
