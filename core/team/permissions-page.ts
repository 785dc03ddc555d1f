/** The table of who may do what, as a page of the docs: written by `npm run permissions`, compared in a test. */
import { ACTS, KINDS, lineOf, type Rule } from "./may.ts";

const WHO: Record<Rule, string> = {
  everybody: "everybody",
  users: "owner, managers, and everybody unless it is kept to oneself",
  changers: "owner, managers, and everybody where it may be changed by all",
  owners: "owner and managers",
  managers: "managers",
  self: "nobody but oneself",
};

export function permissionsPage(): string {
  const rows = ACTS.map((act) => {
    const { of: kind, who, does } = lineOf(act);
    return `| \`${act}\` | ${does} | ${kind === "team" || kind === "own" ? "" : KINDS[kind]} | ${WHO[who]} |`;
  });
  return `# Who may do what

Whoever is signed in sees the team's work. What somebody changes is theirs, or they are a manager. A person (prospect) without an
owner is the team's, and everybody's to change. Lists, filters, pieces of text and target profiles have an owner, who says whether the others may use
or change them; without an owner they are the managers'. A draft or a touch is its rep's and its sequence's owner's; a letter is its mailbox's
owner's. Whoever puts a mailbox into a pool lets the pool's sequences send from it.

What somebody keeps to themselves (a list, a filter, a piece, a profile, a personal sequence) is to the others as if it were not there: no
filter finds by it, and no page or export names it, but for a sequence on the page of somebody who is on it, so that nobody writes to
them beside it; the people themselves are everybody's to see. What comes in by a file, a form or a search changes
nobody of a colleague's: they are put on the list and stay as they are. Everybody may write to anybody of the team's from a sequence and a
mailbox of their own; one sequence at a time and the days between touches hold for all.

This page is made from \`core/team/may.ts\` (\`npm run permissions\`). Every use case asks that table at one door
(\`server/accounts/may-not.ts\`); \`app/accounts/permissions.test.ts\` tries every route and intent as the owner, another rep, a
manager and nobody.

| | what | of what | who |
|---|---|---|---|
${rows.join("\n")}
`;
}
