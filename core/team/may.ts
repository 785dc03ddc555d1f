/**
 * Who may do what: one table, asked inside every use case (server/accounts/may-not.ts) and printed as docs/permissions.md.
 * Everybody of the team sees the team's work, but for what somebody keeps to themselves; the table says who changes it.
 */

export const ROLES = ["rep", "manager"] as const;
export type Role = (typeof ROLES)[number];

/** How the owner of a list, filter, piece, profile or page lets the others have it. */
export const SHARINGS = ["mine", "use", "change"] as const;
export type Sharing = (typeof SHARINGS)[number];

export interface Actor {
  id: number;
  role: Role;
}

/** Whose a thing is. */
export interface Belonging {
  /** Whoever has a part in it: a draft is its rep's and its sequence's owner's. */
  owners: readonly number[];
  /** It belongs to the team and to nobody in particular, as a prospect without an owner. */
  isTeams: boolean;
  /** Null where the kind of thing is not shared by choice. */
  sharing: Sharing | null;
}

/**
 * `everybody`: whoever is signed in. `users`, `changers`: the owner, managers, and those whom the sharing lets use or
 * change it. `owners`: the owner and managers; of what is the team's, everybody. `managers`. `self`: nobody but the owner.
 */
export type Rule = "everybody" | "users" | "changers" | "owners" | "managers" | "self";

/** What things are, in the words of a refusal. */
export const KINDS = {
  sequence: "sequence",
  mailbox: "mailbox",
  account: "social account",
  prospect: "person",
  journey: "person's way through a sequence",
  list: "list",
  filter: "filter",
  piece: "piece of text",
  profile: "target profile",
  shelf: "sequence on the shelf",
  import: "import",
  search: "search",
  job: "work",
  reply: "conversation",
  touch: "touch",
  answer: "answer",
  undecided: "email",
  set_aside: "message",
  reminder: "reminder",
  meeting: "call",
  host: "calendar",
  company_hold: "waiting email",
  block: "entry",
  bulk: "change",
  undo: "change",
  column: "column",
  page: "page",
  film: "film",
  file: "file",
  webhook: "webhook",
  rule: "rule",
  team: "team",
  own: "account",
} as const;
export type Kind = keyof typeof KINDS;

interface Line {
  of: Kind;
  who: Rule;
  does: string;
}

const TABLE = {
  "sequence.create": {
    of: "team",
    who: "everybody",
    does: "write a new sequence, by hand, from the shelf or from a file",
  },
  "sequence.see": {
    of: "sequence",
    who: "users",
    does: "look at a sequence, preview, rehearse, copy and export it",
  },
  "sequence.change": {
    of: "sequence",
    who: "owners",
    does: "save, start, pause, archive or delete a sequence, test it, and change its people, texts and approvals",
  },
  "sequence.shelve": { of: "sequence", who: "owners", does: "put a sequence on the shelf" },
  "shelf.drop": { of: "shelf", who: "owners", does: "take a sequence off the shelf" },
  "mailbox.use": { of: "mailbox", who: "owners", does: "let a sequence send from a mailbox" },
  "mailbox.create": { of: "team", who: "everybody", does: "add mailboxes of one's own" },
  "mailbox.change": { of: "mailbox", who: "owners", does: "change, check, pause, wake or remove a mailbox" },
  "mailbox.see": {
    of: "mailbox",
    who: "everybody",
    does: "see how mailboxes stand, what a change would do, and check the domains' DNS",
  },
  "undecided.decide": { of: "undecided", who: "owners", does: "say of an email whether it left" },
  "set_aside.close": { of: "set_aside", who: "owners", does: "close a message that could not be read" },
  "restored.decide": {
    of: "journey",
    who: "owners",
    does: "say of somebody whether they were written to before a restore",
  },
  "restored.close": {
    of: "team",
    who: "managers",
    does: "put away what a restore told, once it has been seen",
  },
  "account.create": { of: "team", who: "everybody", does: "connect a social account of one's own" },
  "account.use": {
    of: "account",
    who: "owners",
    does: "let a sequence's social touches go out through an account",
  },
  "account.change": { of: "account", who: "owners", does: "pause, wake or disconnect a social account" },
  "prospect.create": { of: "team", who: "everybody", does: "add people by hand or import a file" },
  "prospect.see": {
    of: "prospect",
    who: "everybody",
    does: "see people, their story and their data, export and verify them, write a note",
  },
  "prospect.change": {
    of: "prospect",
    who: "owners",
    does: "change somebody's fields, stage or cleaning, plan their next step, write one email to them",
  },
  "prospect.merge": {
    of: "prospect",
    who: "owners",
    does: "say that two people, or the companies of theirs, are one, or are not",
  },
  "prospect.erase": { of: "prospect", who: "owners", does: "erase somebody for good" },
  "prospect.block": {
    of: "prospect",
    who: "owners",
    does: "block an address or a domain, whoever it concerns",
  },
  "journey.stop": { of: "journey", who: "owners", does: "stop what is planned for somebody" },
  "list.create": { of: "team", who: "everybody", does: "make a list" },
  "list.see": { of: "list", who: "users", does: "see a list, and start a sequence of one's own for it" },
  "list.use": {
    of: "list",
    who: "users",
    does: "verify a list's addresses, find missing ones, look for duplicates",
  },
  "list.change": {
    of: "list",
    who: "changers",
    does: "rename or delete a list, put people on it or take them off, refuse a cleaning rule, open its web form",
  },
  "list.share": { of: "list", who: "owners", does: "say who may use or change a list" },
  "filter.create": { of: "team", who: "everybody", does: "save a filter" },
  "filter.use": { of: "filter", who: "users", does: "use a saved filter" },
  "filter.change": { of: "filter", who: "changers", does: "replace or delete a filter" },
  "filter.share": { of: "filter", who: "owners", does: "say who may use or change a filter" },
  "piece.create": { of: "team", who: "everybody", does: "keep a piece of text" },
  "piece.use": { of: "piece", who: "users", does: "put a kept piece into a text" },
  "piece.change": { of: "piece", who: "changers", does: "replace or delete a piece of text" },
  "piece.share": { of: "piece", who: "owners", does: "say who may use or change a piece" },
  "profile.create": { of: "team", who: "everybody", does: "save a target profile and search with it" },
  "profile.use": { of: "profile", who: "users", does: "search with a target profile" },
  "profile.change": { of: "profile", who: "changers", does: "change a target profile" },
  "profile.share": { of: "profile", who: "owners", does: "say who may use or change a profile" },
  "file.add": { of: "team", who: "everybody", does: "add a picture or an attachment" },
  "file.lock": { of: "file", who: "owners", does: "give a file's link a password, or an end" },
  "import.change": { of: "import", who: "owners", does: "carry out an import, stop it or take it back" },
  "search.keep": { of: "search", who: "owners", does: "keep people whom a search found" },
  "job.stop": { of: "job", who: "owners", does: "stop work that goes on" },
  "probe.switch": {
    of: "team",
    who: "managers",
    does: "let mail servers be asked whether somebody is there",
  },
  "reply.see": { of: "reply", who: "everybody", does: "read conversations" },
  "reply.change": {
    of: "reply",
    who: "owners",
    does: "label, mark as read, answer, hand over or decide about a letter",
  },
  "reply.opt_out": {
    of: "reply",
    who: "everybody",
    does: "say that somebody wants no more mail: whoever reads it first must be heard",
  },
  "answer.drop": { of: "answer", who: "owners", does: "take back an answer that was to go later" },
  "touch.end": {
    of: "touch",
    who: "owners",
    does: "do, skip or put off a touch, change, approve or leave out a draft",
  },
  "reminder.change": { of: "reminder", who: "owners", does: "end a reminder or put it off" },
  "meeting.note": { of: "meeting", who: "owners", does: "note whether a call took place" },
  "host.use": {
    of: "host",
    who: "users",
    does: "let a booking page of one's own book calls with somebody, who says under Settings whether colleagues may",
  },
  "journey.mark": { of: "journey", who: "owners", does: "mark that somebody accepted an invitation" },
  "company.release": { of: "company_hold", who: "owners", does: "let a company's other people go on" },
  "block.remove": {
    of: "block",
    who: "owners",
    does: "take off the block list what one put there oneself; opt-outs and bounces are the managers'",
  },
  "blocks.mend": { of: "team", who: "managers", does: "take back blocks that were a mailbox's mistake" },
  "bulk.undo": { of: "bulk", who: "owners", does: "take back a change of many people" },
  undo: { of: "undo", who: "owners", does: "take back what one did" },
  "settings.own": {
    of: "own",
    who: "self",
    does: "change one's profile, password, notices, sessions, keys, calendars and booking pages",
  },
  "settings.team": {
    of: "team",
    who: "managers",
    does: "change the company, labels, sending rules, the assistant and what was learned",
  },
  "target.set": {
    of: "own",
    who: "owners",
    does: "set how many calls one wants to book in a week; the team's and others' are the managers'",
  },
  "column.create": {
    of: "team",
    who: "everybody",
    does: "make a column that is worked out, correct what it found for a company, say that it has been read",
  },
  "column.change": { of: "column", who: "owners", does: "change or delete a column that is worked out" },
  "page.create": { of: "team", who: "everybody", does: "make a page for prospects" },
  "page.use": {
    of: "page",
    who: "users",
    does: "look at a page, copy it, write with it, take its links along",
  },
  "page.change": { of: "page", who: "changers", does: "change or remove a page for prospects" },
  "page.share": { of: "page", who: "owners", does: "say who may use or change a page" },
  "film.add": { of: "team", who: "everybody", does: "record a film or upload one" },
  "film.change": { of: "film", who: "owners", does: "trim a film, write its captions, remove it" },
  "webhook.create": {
    of: "team",
    who: "everybody",
    does: "have another program told of what happens, as far as one may see it",
  },
  "webhook.change": { of: "webhook", who: "owners", does: "change, test, replay or remove a webhook" },
  "rule.create": { of: "team", who: "everybody", does: "write a rule, which acts as oneself" },
  "rule.change": {
    of: "rule",
    who: "owners",
    does: "change, switch, call or remove a rule, and take back what it did",
  },
  "crm.change": {
    of: "team",
    who: "managers",
    does: "connect the CRM, say what goes which way, switch it, and decide what it asks",
  },
  "archive.make": { of: "team", who: "managers", does: "take everything along in one archive" },
  "users.change": {
    of: "team",
    who: "managers",
    does: "add and remove users, give them roles and new links",
  },
  "desk.see": {
    of: "team",
    who: "everybody",
    does: "see Today, Sending, Results, the finder, what is going on, and be told of it",
  },
  "clock.move": { of: "team", who: "everybody", does: "move the demo's clock" },
} as const satisfies Record<string, Line>;

export type Act = keyof typeof TABLE;
export const ACTS = Object.keys(TABLE) as Act[];

export const lineOf = (act: Act): Line => TABLE[act];

/** Whether somebody may do this with a thing that belongs so. */
export function may(user: Actor, act: Act, { owners, isTeams, sharing }: Belonging): boolean {
  const isOwner = owners.includes(user.id);
  const isManager = user.role === "manager";
  switch (TABLE[act].who) {
    case "everybody":
      return true;
    case "users":
      return isManager || isOwner || isTeams || sharing === "use" || sharing === "change";
    case "changers":
      return isManager || isOwner || isTeams || sharing === "change";
    case "owners":
      return isManager || isOwner || isTeams;
    case "managers":
      return isManager;
    case "self":
      return isOwner;
  }
}
