/**
 * The shelf: starting points for the situations a rep meets, in words that fit any trade. What only the rep knows stands in
 * square brackets; a sequence cannot start while one is left.
 */
import type { Condition } from "./condition.ts";
import type { EmailStep, Fork, Path, RepStep } from "./path.ts";
import { NO_WAIT, type Wait } from "./wait.ts";

export interface StartingPoint {
  id: string;
  name: string;
  about: string;
  path: Path;
}

const HELLO = 'Hello {{ first_name | default: "there" }},';

const after = (days: number): Wait => (days === 0 ? NO_WAIT : { days, working: true });
const mail = (
  id: string,
  name: string,
  days: number,
  subject: string,
  text: string,
  more: Partial<EmailStep> = {},
): EmailStep => ({
  id,
  kind: "email",
  name,
  note: "",
  wait: after(days),
  variants: [{ id: "a", weight: 1, subject, body: `${HELLO}\n\n${text}` }],
  format: "formatted",
  quotes: false,
  attachments: [],
  ...more,
});
const touch = (
  id: string,
  kind: RepStep["kind"],
  name: string,
  days: number,
  text: string,
  skipAfter: number | null = 4,
): RepStep => ({
  id,
  kind,
  name,
  note: "",
  wait: after(days),
  text,
  journey: "waits",
  skipAfter,
  asNote: false,
});
const fork = (id: string, ask: Condition, days: number, yes: Path, no: Path, name = ""): Fork => ({
  id,
  kind: "fork",
  name,
  ask,
  patience: after(days),
  yes,
  no,
});

/** Blanks that a rep fills in: "[what you make]"; a link's text is none, and the editor protects brackets. */
const BLANK = /\\?\[([^\][\\]{3,60})\\?\](?!\()/g;

/** What is still to be filled in, in the order of reading. */
export const blanksIn = (text: string): string[] =>
  [...text.matchAll(BLANK)].map(([, words]) => words as string);

export const SHELF: readonly StartingPoint[] = [
  {
    id: "opening",
    name: "A cold opening",
    about: "Strangers who fit. Three emails with a contact request and a call in between.",
    path: [
      mail(
        "one",
        "Opening",
        0,
        "[their task] at {{ company }}",
        "who at {{ company }} looks after [their task]?\n\nWe [what you do, in one line]. [A customer like them] saves [what they save] with it.\n\nWould ten minutes be of use to see whether that holds for you too?",
      ),
      fork(
        "net",
        { about: "profile" },
        0,
        [
          touch(
            "invite",
            "invitation",
            "Ask for contact",
            2,
            "I wrote to you about [their task]. Glad to be in touch here as well.",
            3,
          ),
        ],
        [],
      ),
      mail(
        "two",
        "One number",
        4,
        "",
        "one number I left out: [a figure that matters to them].\n\nIs [their task] a matter you look at this quarter, or a later one?",
      ),
      touch(
        "ring",
        "call",
        "Ring once",
        3,
        "Did the number reach them? Who decides about [their task]? What would have to be true for a look?",
      ),
      mail(
        "three",
        "Last word",
        5,
        "Shall I leave it there?",
        "I have not heard from you, so I take it that [their task] is in good hands.\n\nShould that change, a line to me is enough. If somebody else is the right person, a name would help me.",
      ),
    ],
  },
  {
    id: "short",
    name: "Short and plain",
    about: "Three plain-text emails of four lines each. For busy people who read on a telephone.",
    path: [
      mail(
        "one",
        "Question",
        0,
        "[their task]",
        "how do you handle [their task] at {{ company }} today?\n\nI ask because [the reason in one line].",
        { format: "plain" },
      ),
      mail(
        "two",
        "Example",
        4,
        "",
        "an example in one line: [a customer like them] went from [before] to [after].\n\nWorth a look?",
        { format: "plain" },
      ),
      mail(
        "three",
        "Close",
        6,
        "",
        "I will not write about this again. If it becomes a matter later, here I am.",
        { format: "plain" },
      ),
    ],
  },
  {
    id: "met",
    name: "After an event, met",
    about: "You spoke there. Keep the thread warm while they remember you.",
    path: [
      mail(
        "one",
        "Good to meet you",
        0,
        "Our talk at [the event]",
        "it was good to talk to you at [the event]. You mentioned [what they mentioned].\n\nHere is what I promised: [what you promised].\n\nDoes a quarter of an hour next week suit you?",
      ),
      touch("invite", "invitation", "Ask for contact", 1, "Good to have met you at [the event].", 3),
      mail(
        "two",
        "What you asked",
        4,
        "",
        "you asked [their question]. The short answer: [the answer].\n\nThe longer one is easier on the phone: {{ booking_link }}",
      ),
      touch("ring", "call", "Ring", 3, "Refer to [what they mentioned]. Offer two times."),
    ],
  },
  {
    id: "missed",
    name: "After an event, missed",
    about: "They were on the list of guests, and you did not meet.",
    path: [
      mail(
        "one",
        "Missed you",
        0,
        "[The event], in two lines",
        "we did not meet at [the event]. What most people asked us there was [the question].\n\nIs that one of yours too?",
      ),
      mail(
        "two",
        "The notes",
        5,
        "",
        "I wrote down what was said about [the topic] at [the event]. Shall I send you the page?",
      ),
    ],
  },
  {
    id: "silence",
    name: "Silence after interest",
    about: "They wanted to hear more, and then did not answer. Light, and with a way out.",
    path: [
      mail(
        "one",
        "Where we were",
        0,
        "",
        "when we last wrote, you wanted to know [what they asked]. Here it is: [the answer in two lines].\n\nIs it still a matter for you, or has something else come first?",
        {
          variants: [
            {
              id: "a",
              weight: 1,
              subject: "Where we were with [their task]",
              body: `${HELLO}\n\nwhen we last wrote, you wanted to know [what they asked]. Here it is: [the answer in two lines].\n\nIs it still a matter for you, or has something else come first?`,
            },
          ],
        },
      ),
      touch("ring", "call", "Ring", 3, "Ask what came first. Offer to come back at a date of theirs."),
      mail(
        "two",
        "A date of yours",
        4,
        "",
        "no answer is an answer too, so only this: shall I come back in [a month], or close the file?\n\nOne word is enough.",
      ),
    ],
  },
  {
    id: "referral",
    name: "Asking who is right",
    about: "You do not know who decides. Ask for a name, not for a meeting.",
    path: [
      mail(
        "one",
        "Who looks after this?",
        0,
        "Who looks after [the topic]?",
        "I am looking for whoever looks after [the topic] at {{ company }}. Are you the right person, or could you point me to them?\n\nWhat it is about: [one line].",
      ),
      mail(
        "two",
        "A smaller question",
        4,
        "",
        'an easier question: is [the topic] decided at {{ city | default: "your house" }}, or somewhere else?\n\nA name or a department is all I need, and I leave you in peace.',
      ),
    ],
  },
  {
    id: "proposal",
    name: "Proposal sent",
    about: "The offer is on their desk. Help them decide, and hear what stands in the way.",
    path: [
      mail(
        "one",
        "Questions?",
        2,
        "Our proposal of [the date]",
        "you have had our proposal since [the date]. Which part of it raises most questions at your place?\n\nI can take them on the phone in ten minutes: {{ booking_link }}",
      ),
      touch("ring", "call", "Ring", 3, "Who else reads it? What would make it an easy yes? By when?"),
      mail(
        "two",
        "For whoever decides",
        3,
        "",
        "in case it has to be explained to somebody else: here is the matter in three lines.\n\n- [what it solves]\n- [what it costs]\n- [when it runs]\n\nShall I talk to them with you?",
      ),
      mail(
        "three",
        "A date",
        6,
        "",
        "the prices in our proposal hold until [the date]. Is there a decision I can wait for, or shall I make a new one later?",
      ),
    ],
  },
  {
    id: "trial",
    name: "Trial begun",
    about: "They are trying it. See that they get to the point where it is useful.",
    path: [
      mail(
        "one",
        "First step",
        0,
        "Your first step with [the product]",
        "welcome. The one thing worth doing today: [the first step]. It takes [minutes].\n\nIf you get stuck, answer this mail; it comes to me.",
      ),
      fork(
        "seen",
        { about: "clicked", stepId: "one" },
        3,
        [
          mail(
            "next",
            "Second step",
            2,
            "",
            "you have begun, good. What most people do next: [the second step].",
          ),
        ],
        [
          touch(
            "ring",
            "call",
            "Ring and help",
            0,
            "They have not begun. What is in the way? Do the first step together.",
          ),
        ],
        "Have they begun?",
      ),
      mail(
        "two",
        "What it shows",
        6,
        "",
        "by now it should show you [what it shows]. Does it?\n\nA quarter of an hour together saves a week of guessing: {{ booking_link }}",
      ),
      mail(
        "three",
        "How it goes on",
        5,
        "How shall it go on?",
        "your trial ends on [the date]. Three ways: go on, a longer look, or leave it. Which one?",
      ),
    ],
  },
  {
    id: "welcome",
    name: "A new customer's first weeks",
    about: "They bought. Make sure that they would do it again.",
    path: [
      mail(
        "one",
        "Welcome",
        0,
        "Welcome, and who does what",
        "thank you for your trust. From now on [the person] looks after you.\n\nWhat happens next: [the first thing], then [the second].",
      ),
      touch("ring", "call", "Ask how it went", 5, "What works? What does not? Who should be shown how?"),
      mail(
        "two",
        "A small thing",
        5,
        "",
        "a small thing that others found out late: [a tip].\n\nIs there something that you miss?",
      ),
      touch(
        "review",
        "errand",
        "Prepare the first review",
        10,
        "Gather what they use, what they do not, and one suggestion.",
      ),
    ],
  },
  {
    id: "lapsed",
    name: "A lapsed customer",
    about: "They were with you once. Ask honestly, offer little, listen.",
    path: [
      mail(
        "one",
        "How it is going",
        0,
        "{{ company }} and us",
        "it has been [how long] since we worked together. I would like to know why it ended, even if the answer is unpleasant.\n\nWhat should we have done differently?",
      ),
      mail(
        "two",
        "What has changed",
        5,
        "",
        "since then we have changed [what changed], because customers like you told us.\n\nWould that have made a difference?",
      ),
      touch("ring", "call", "Ring", 4, "Listen. Do not sell. Note what they use now."),
    ],
  },
  {
    id: "asked",
    name: "They asked for something",
    about: "A form, a download, a question. Fast, personal, and not at once a meeting.",
    path: [
      mail(
        "one",
        "What you asked for",
        0,
        "What you asked for",
        "here is [what they asked for].\n\nMay I ask what made you look for it? Then I can tell you whether the rest is worth your time.",
      ),
      touch("ring", "call", "Ring within a day", 1, "What made them look? By when do they need it?", 2),
      mail(
        "two",
        "How others use it",
        3,
        "",
        "two ways in which it is used by houses like {{ company }}:\n\n1. [the first]\n2. [the second]\n\nWhich one is nearer to yours?",
      ),
    ],
  },
  {
    id: "newpost",
    name: "New in their post",
    about: "The first ninety days: they look at everything anew.",
    path: [
      mail(
        "one",
        "Good start",
        0,
        "Good start at {{ company }}",
        "congratulations on the new post. In the first months one is asked about [the topic] before one knows where it lies.\n\nI have a page with the five questions that come first. Shall I send it?",
      ),
      touch("invite", "invitation", "Ask for contact", 3, "Wishing you a good start at {{ company }}.", 3),
      mail(
        "two",
        "The page",
        6,
        "",
        "here is the page, without waiting for an answer: [the link].\n\nWhen you come to number three, I can show you how others did it.",
      ),
    ],
  },
  {
    id: "neighbour",
    name: "A neighbour's example",
    about: "Somebody like them, near them, uses it. Let the example speak.",
    path: [
      mail(
        "one",
        "The neighbour",
        0,
        "How [a neighbour] does it",
        "[a neighbour], an hour from you, had the same question about [the topic] last year.\n\nThey now [what they do]. They would tell you about it; so would I.\n\nWhich do you prefer?",
      ),
      fork(
        "net",
        { about: "profile" },
        0,
        [
          touch(
            "message",
            "social_message",
            "Message",
            3,
            "I wrote to you about [a neighbour] and [the topic]. Shall I put you in touch?",
            3,
          ),
        ],
        [],
        "On a network?",
      ),
      mail(
        "two",
        "In numbers",
        4,
        "",
        "their year in numbers: [the numbers].\n\nWould yours look alike? I can work it out with three figures from you.",
      ),
    ],
  },
  {
    id: "invite",
    name: "Invitation to an hour",
    about: "A talk, a visit or a demonstration on a day. Reminds, and does not nag.",
    path: [
      mail(
        "one",
        "The invitation",
        0,
        "[The day]: an hour on [the topic]",
        "on [the day] we show how [the topic] is done at [where]. An hour, [how many] people, questions welcome.\n\nShall I keep you a place?",
      ),
      mail(
        "two",
        "Still a place",
        4,
        "",
        "there is still a place on [the day]. If the day does not suit you, shall I send you what was shown?",
        { onlyIf: { about: "clicked", stepId: "one", not: true } },
      ),
      touch(
        "remind",
        "social_message",
        "Remind",
        3,
        "See you on [the day]? I can still keep you a place.",
        2,
      ),
    ],
  },
];
