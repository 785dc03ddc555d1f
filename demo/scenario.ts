/** What the demo's team has set up: mailboxes, sequences, and when what was started. */
import type { EmailStep, Path, RepStep } from "../core/sequence/path.ts";
import { NO_WAIT } from "../core/sequence/wait.ts";

export const SEED = "quillwater-2026";
export const OPENS_AT = "2026-06-09T10:36:00+01:00";
export const BEGINS_AT = "2026-05-18T07:00:00+01:00";
/** Everybody in the demo has this password; the sign-in page offers them with one click anyway. */
export const DEMO_PASSWORD = "humid-lantern-ledger";

export const USERS = [
  { name: "Marta Quintela", email: "marta@quillwater.example", zone: "Europe/Lisbon", role: "rep" },
  { name: "Rui Abrantes", email: "rui@quillwater.example", zone: "Europe/Lisbon", role: "rep" },
  { name: "Helga Lund", email: "helga@quillwater.example", zone: "Europe/Oslo", role: "manager" },
] as const;

export const MAILBOXES: {
  address: string;
  dailyLimit: number;
  rampStart?: number;
  rampStep?: number;
  pools?: string;
}[] = [
  { address: "marta@quillwater-loans.example", dailyLimit: 30, pools: "Loans" },
  { address: "m.quintela@quillwater-loans.example", dailyLimit: 30, pools: "Loans" },
  { address: "marta@hello-quillwater.example", dailyLimit: 30 },
  { address: "marta@quillwater-climate.example", dailyLimit: 22 },
  { address: "m.quintela@quillwater-climate.example", dailyLimit: 30, rampStart: 8, rampStep: 1 },
  { address: "marta@quillwater-note.example", dailyLimit: 30 },
];
/** A mailbox that is there and not added yet: its servers are found from its address. */
export const NEW_MAILBOX = "marta@quillwater-desk.example";
/** The domains that mail is sent from. */
export const SENDING_DOMAINS = [
  ...new Set(
    [...MAILBOXES.map(({ address }) => address), NEW_MAILBOX].map(
      (address) => address.split("@")[1] as string,
    ),
  ),
];
/** A zone of the DNS stand-in that names bad senders, and whom it names. */
export const BLOCK_ZONE = "unwelcome.lists.example";
export const LISTED_DOMAIN = "quillwater-note.example";
/** Marta's account of the social network. */
export const SOCIAL_TOKEN = "marta-on-the-network";
export const SIGNATURE = "Marta Quintela\nQuillwater · loggers for humidity and temperature";

export const email = (
  id: string,
  name: string,
  days: number,
  subject: string,
  body: string,
  more: Partial<EmailStep> = {},
): EmailStep => ({
  id,
  kind: "email",
  name,
  note: "",
  wait: { days, working: true },
  variants: [{ id: "a", weight: 1, subject, body }],
  format: "formatted",
  quotes: false,
  attachments: [],
  ...more,
});

/** What only Marta can do. */
export const touch = (
  id: string,
  kind: RepStep["kind"],
  name: string,
  days: number,
  skipAfter: number,
  text: string,
): RepStep => ({
  id,
  kind,
  name,
  note: "",
  wait: { days, working: true },
  text,
  journey: "waits",
  skipAfter,
  asNote: false,
});

export interface DemoSequence {
  name: string;
  list: string;
  /** ISO country codes of the people on its list. */
  countries: string[];
  mailboxes: string[];
  startsAt: string | null;
  hours: { opens: string; closes: string };
  /** How many of its people have left their institution, so that mail to them comes back. */
  gone: number;
  path: Path;
}

const [loans, loans2, hello, climate, climate2, note] = MAILBOXES.map(({ address }) => address) as [
  string,
  string,
  string,
  string,
  string,
  string,
];

export const SEQUENCES: DemoSequence[] = [
  {
    name: "Loan season",
    list: "Museums, southern Europe and Brazil",
    countries: ["PT", "ES", "FR", "BR"],
    mailboxes: [loans, loans2, hello, climate2],
    startsAt: "2026-06-02T08:20:00+01:00",
    hours: { opens: "08:30", closes: "17:00" },
    gone: 0,
    path: [
      email(
        "opening",
        "Opening",
        0,
        "Climate records for the autumn loans",
        `Dear {{ first_name }},

When {{ company }} lends a piece, who puts together the humidity record that the lender asks for?

We make small loggers that sit in the case and write that record themselves. Registrars we work with send it the same afternoon.

Would it help if I showed you one such sheet?`,
        {
          variants: [
            {
              id: "a",
              weight: 1,
              subject: "Climate records for the autumn loans",
              body: `Dear {{ first_name }},

When {{ company }} lends a piece, who puts together the humidity record that the lender asks for?

We make small loggers that sit in the case and write that record themselves. Registrars we work with send it the same afternoon.

Would it help if I showed you one such sheet?`,
            },
            {
              id: "b",
              weight: 1,
              subject: "The humidity record of a loan",
              body: `Dear {{ first_name }},

how long does it take at {{ company }} to put together the humidity record of a loan?

Registrars we work with send it the same afternoon: a small logger in the case writes it by itself.

May I show you one such sheet?`,
            },
          ],
        },
      ),
      {
        id: "network",
        kind: "fork",
        name: "On the network?",
        ask: { about: "profile" },
        patience: NO_WAIT,
        yes: [
          touch(
            "invite",
            "invitation",
            "Invite",
            2,
            3,
            "Good morning {{ first_name }}, I wrote to you about climate records for loans. Happy to be in touch here too.",
          ),
          {
            id: "accepted",
            kind: "fork",
            name: "",
            ask: { about: "accepted" },
            patience: { days: 3, working: true },
            yes: [
              touch(
                "message",
                "social_message",
                "Message",
                1,
                4,
                "Thank you for the contact, {{ first_name }}. May I send you the sheet a lender gets from us? It is one page.",
              ),
              touch(
                "ring",
                "call",
                "Ring the desk",
                3,
                4,
                "Who at {{ company }} puts the humidity record together? How long does it take? Would a week's test in one case help?",
              ),
            ],
            no: [
              email(
                "follow",
                "One thing left out",
                1,
                "",
                `{{ first_name }}, one thing I left out last week.

When a lender asks {{ company }} for six months of readings, how long does it take your team to put them together?

If a short call is easier, take any half-hour here: [my calendar]({{ booking_link }})`,
                { kind: "approved_email" },
              ),
            ],
          },
        ],
        no: [
          email(
            "follow-post",
            "Six months of readings",
            5,
            "",
            `{{ first_name }}, one thing I left out last week.

When a lender asks {{ company }} for six months of readings, how long does it take your team to put them together?

If a short call is easier, take any half-hour here: [my calendar]({{ booking_link }})`,
          ),
        ],
      },
      email(
        "close",
        "Close the file",
        6,
        "Shall I close this?",
        `Dear {{ first_name }},

I have not heard from you, so I will take it that loans are in good hands at {{ company }}.

If that changes before the autumn, a line is enough: {{ booking_link }}`,
      ),
    ],
  },
  {
    name: "Reading rooms",
    list: "Archives and libraries, northern Europe",
    countries: ["DE", "NO", "GB", "NL"],
    // Two mailboxes share five people who have left, so that one of them meets three and rests.
    mailboxes: [climate, note],
    startsAt: "2026-06-04T08:10:00+01:00",
    hours: { opens: "08:30", closes: "16:30" },
    gone: 5,
    path: [
      email(
        "opening",
        "Opening",
        0,
        "Summer heat in the stacks",
        `Hello {{ first_name | default: "there" }},

last July we measured 31 °C on the top shelves of a reading room much like those of {{ company }}. Nobody had noticed; the thermostat hangs by the door.

How do you know what it is like up there?`,
      ),
      email(
        "sheet",
        "The July sheet",
        3,
        "",
        `Hello {{ first_name | default: "there" }},

here is the sheet I meant: **eleven days above 28 °C**, all of them on the top two shelves. [See the sheet](https://quillwater.example/july-sheet)

Would a fortnight's test in one of your rooms be of use? Any half-hour suits me: {{ booking_link }}`,
      ),
      email(
        "close",
        "Last note",
        4,
        "",
        `Hello {{ first_name | default: "there" }},

this is my last note before the summer. If the heat comes and you would rather know than guess, write to me.`,
      ),
    ],
  },
  {
    name: "Conservators abroad",
    list: "Conservators, Americas and Asia",
    countries: ["US", "MX", "JP", "IN"],
    mailboxes: [loans, loans2, hello, climate2],
    startsAt: "2026-05-18T09:30:00+01:00",
    hours: { opens: "08:30", closes: "17:00" },
    gone: 0,
    path: [
      email(
        "opening",
        "Opening",
        0,
        "A logger without a cable",
        `Dear {{ first_name }},

most of the cases we are asked about have no network and no socket. Is it the same at {{ company }}?

Ours runs for three years on one battery and gives its readings to a phone held near the glass.

May I send you one to try?`,
      ),
      {
        id: "curious",
        kind: "fork",
        name: "",
        ask: { about: "opened", stepId: "opening" },
        patience: { days: 3, working: true },
        yes: [
          email(
            "how",
            "How it is read",
            1,
            "",
            `Dear {{ first_name }},

in case it is useful: reading a case takes about ten seconds, and the sheet goes straight to whoever asked for it.

If you would like to see it, choose a time here: {{ booking_link }}`,
          ),
          touch(
            "ring",
            "call",
            "Ring once",
            3,
            3,
            "Did the note on reading a case without a cable reach them? Which cases have no socket?",
          ),
        ],
        no: [
          email(
            "again",
            "With another subject",
            1,
            "Three years on one battery",
            `Dear {{ first_name }},

a case at {{ company }} without a socket can still keep its record: for three years, on one battery.

Is there one that you would like to know more about?`,
          ),
        ],
      },
      email(
        "close",
        "Close the file",
        5,
        "Shall I close this?",
        `Dear {{ first_name }},

I will not write about this again. If {{ city | default: "your" }} summers make you think of it, you know where I am.`,
      ),
    ],
  },
];

/** A fourth one that nobody has started yet. */
export const DRAFT: Omit<DemoSequence, "gone" | "startsAt"> = {
  name: "Autumn audits",
  list: "Registrars, northern Europe",
  countries: [],
  mailboxes: [loans, hello],
  hours: { opens: "09:00", closes: "16:00" },
  path: [
    email(
      "opening",
      "Opening",
      0,
      "Your insurer's question about {{ company }}",
      `Dear {{ first_name }},

insurers have begun to ask museums for a year of climate readings before they renew. Has yours?`,
    ),
    email(
      "follow",
      "What they ask for",
      4,
      "",
      "Dear {{ first_name }},\n\nthis is the list that they send. Most of it is one export.",
    ),
  ],
};

/** What Marta answered to the people who wanted to hear more. */
export const ANSWERS = [
  "Thank you for writing back. I will send you the sheet this afternoon, and would gladly show you how it is made. Does Thursday suit you?",
  "That is good to hear. The short answer is yes; the longer one takes ten minutes on the phone. When may I call?",
  "Thank you. I have put the prices in a letter of one page, which I will send after lunch.",
];

/** Whom Marta looks for next, in her own words. */
export const PROFILE = {
  name: "Registrars, northern Europe",
  description:
    "We sell small loggers that record humidity and temperature in display cases. We are looking for registrars, collections managers and conservators at mid-size museums in northern Europe who lend pieces to other houses, not assistants or volunteers.",
};

export const OPENED_SILENT = {
  match: "all",
  groups: [{ match: "all", conditions: [{ field: "outcome", op: "is", value: "any opened_silent" }] }],
};

/** Customers of Quillwater; nobody writes to them as to strangers. */
export const BLOCKED = [
  "hvalfjord-kunsthall.example",
  "casa-do-astrolabio.example",
  "curator@lantern-house.example",
];

/** Cards that Rui typed off at a fair, in a hurry. */
export const CARDS_CSV = `Name,E-mail,Organisation,Web,Role,Town,Country,Tel,Remark
"Dr. INGUNN AASEN-VIK",ingunn.aasenvik@brygge-museum.example,BRYGGE MUSEUM AS,www.brygge-museum.example,REGISTRAR,Bergen,Norge,55 12 34 56,wants the price list
ingunn Aasenvik,i.aasenvik@brygge-museum.example,Brygge Museum,,Registrar,Bergen,NO,,
Sanne VAN DER MEULEN 🌷,sanne@tegelhuis-delft.example,Tegelhuis Delft B.V. – the tile house,https://tegelhuis-delft.example/en,Conservator at Tegelhuis Delft,Delft,Netherlands,+31 15 2123456,
"Robert ""Bob"" Macleod",bob.macleod@clyde-archive.example,The Clyde Archive Ltd,clyde-archive.example,archivist,Glasgow,Scotland,0141 496 0123,old building
Robert MacLeod,robert.macleod@clyde-archive.example,Clyde Archive,,Archivist,Glasgow,UK,,
Maria de la Fuente PhD,maria.fuente (at) museo-del-hilo.example,"MUSEO DEL HILO, S.L.",museo-del-hilo.example,Head of Collections,Valencia,España,,ring in September
CAPUCINE D'ARGENT,capucine.dargent@accepts-all-musee.example,Musée du Verre SARL,,Régisseuse,Nantes,France,+33 2 40 00 00 00,
Jörn Möhring,,Stadtarchiv Elbmarsch GmbH,elbmarsch.example,Facilities Mgr,Hamburg,Germany,,no card left
Anke Tietz,anke.tietz@elbmarsch.example,Stadtarchiv Elbmarsch,elbmarsch.example,Archivist,Hamburg,DE,,
Frieda Harms,frieda.harms@elbmarsch.example,Stadtarchiv Elbmarsch,elbmarsch.example,Conservator,Hamburg,DE,,
Аnna Lindqvist,anna.lindqvist@sjohuset.example,Sjöhuset AB,sjohuset.example,Registrar,Malmö,Sverige,,
info,info@lantern-street.example,Lantern Street Gallery,,,Leeds,UK,,
Thiago Peixoto,thiago.peixoto@null-mx-acervo.example,Acervo do Rio Ltda,,Conservador,Recife,Brasil,,
Old Friend,old.friend,Unknown,,,,,,cannot read it
Ilse Brandt,ilse.brandt@silent-kontor.example,Kontorhaus Kiel GmbH,,Registrar,Kiel,Germany,,
`;
