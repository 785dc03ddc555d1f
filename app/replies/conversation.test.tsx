import { expect, it } from "vitest";
import type { ConversationItem } from "../../server/replies/conversation";
import { markup, shown } from "../components/test-markup";
import { Conversation } from "./conversation";

const AT = Date.parse("2026-06-09T09:00:00Z");
const item = (change: Partial<ConversationItem>): ConversationItem => ({
  id: "t1",
  from: "us",
  kind: "step",
  who: "marta@quillwater.example",
  subject: "Loans",
  text: "Dear Ilse",
  quoted: "",
  at: AT,
  state: "sent",
  dueAt: null,
  unlessReply: false,
  attached: [],
  problem: null,
  ...change,
});
const theirs = (id: string, kind: "person" | "automatic" | "bounce", text: string) =>
  item({ id, from: "them", kind, who: "Ilse Brandt", text, state: null });
const all = [
  item({}),
  item({ id: "t2", text: "One thing more" }),
  theirs("r1", "automatic", "I am away"),
  theirs("r2", "person", "Tell me more"),
];
const text = (items: ConversationItem[], from?: string) =>
  shown(<Conversation items={items} zone="Europe/Lisbon" {...(from ? { from } : {})} />);

it("a conversation begins with the message that is asked for; what came before is folded away, the latest first", () => {
  const words = text(all, "r2");
  expect(words).toMatch(/^Ilse Brandt Loans .* Tell me more Earlier: 2 emails from you, 1 message from them/);
  expect(words.indexOf("I am away")).toBeLessThan(words.indexOf("One thing more"));
  expect(words.indexOf("One thing more")).toBeLessThan(words.indexOf("Dear Ilse"));
});

it("it is shown whole where nothing is asked for, or something that is no longer there", () => {
  for (const from of [undefined, "r99"]) expect(text(all, from)).not.toContain("Earlier");
  expect(markup(<Conversation items={all} zone="Europe/Lisbon" />).match(/<li/g)).toHaveLength(4);
});

it("what is no letter of a person says what it is", () => {
  expect(text([theirs("r1", "automatic", "I am away")])).toContain("automatic answer");
  expect(text([theirs("r1", "bounce", "no such user")])).toContain("delivery report");
  expect(text([theirs("r1", "person", "Yes")])).not.toMatch(/automatic|report/);
});

it("an answer says how far it is, and why it did not go", () => {
  const answer = (change: Partial<ConversationItem>) => text([item({ kind: "answer", ...change })]);
  expect(answer({ state: "queued", at: 9e15 })).toBe(
    "marta@quillwater.example Loans your answer goes out in a moment Dear Ilse",
  );
  expect(answer({ state: "claimed" })).toContain("on its way");
  expect(answer({ state: "sent" })).toContain("Tue 9 June, 10:00");
  expect(answer({ state: "refused", problem: "550 5.1.1 no such user" })).toMatch(
    /did not go .* 550 5\.1\.1 no such user$/,
  );
});

it("a letter without words says what it is instead, and what it quotes stands folded below", () => {
  const letter = (change: Partial<ConversationItem>) => text([{ ...theirs("r1", "person", ""), ...change }]);
  expect(letter({})).toMatch(/An empty message$/);
  expect(letter({ attached: ["plan.png"] })).toMatch(/No words, only what is attached Attached: plan\.png$/);
  expect(letter({ quoted: "Dear Ilse" })).toMatch(/Nothing but what it quotes What it quotes Dear Ilse$/);
});

it("a very long letter is folded, whole, in pieces that a browser keeps as they are", () => {
  const long = `Begins ${"so it goes on ".repeat(14_000)}and ends.`;
  const html = markup(<Conversation items={[theirs("r1", "person", long)]} zone="Europe/Lisbon" />);
  expect(html).toContain("characters more");
  const pieces = html.split(/<[^>]*>/);
  expect(Math.max(...pieces.map(({ length }) => length))).toBeLessThan(65_536);
  expect(pieces.join("")).toContain("Begins so it goes on");
  expect(pieces.join("").replace(/The rest of it: [\d,]+ characters more/, "")).toContain(long);
});
