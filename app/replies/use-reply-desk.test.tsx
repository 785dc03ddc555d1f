// @vitest-environment jsdom
import { cleanup, fireEvent, waitFor } from "@testing-library/react";
import { useSearchParams } from "react-router";
import { describe, expect, it } from "vitest";
import { LABELS } from "../../core/replies/labels";
import type { Desk } from "../../server/desk/reading-desk";
import { done, refused } from "../../server/errors";
import { Refusal } from "../components/refusal";
import { openPage, screen, sentBy } from "../components/test-page";
import { useReplyDesk } from "./use-reply-desk";

const reply = (id: number, more: object = {}) => ({
  id,
  name: `Person ${id}`,
  kind: "person",
  label: null,
  readAt: null,
  ...more,
});
const labels = LABELS.map((code) => ({ code, name: code.toUpperCase() }));

/** What the desk reads of what the server sends, with the second of three letters open. */
const desk = (change: object = {}) =>
  ({
    replies: [reply(1), reply(2), reply(3)],
    labels,
    open: reply(2),
    notYours: null,
    afterLabel: "settled",
    offer: { link: "the link", times: "" },
    ...change,
  }) as unknown as Desk;

/** The server opens what the address asks for. */
function Shown({ given }: { given: Desk }) {
  const [params] = useSearchParams();
  const asked = given.replies.find(({ id }) => String(id) === params.get("reply"));
  const open = given.open && asked ? { ...given.open, id: asked.id, name: asked.name } : given.open;
  const at = useReplyDesk({ ...given, open });
  return (
    <>
      <Refusal errors={at.errors} />
      <output>{JSON.stringify({ last: at.last, side: at.side })}</output>
      <textarea
        ref={(field) => {
          at.answer.current = field && {
            focus: () => field.focus(),
            insert: (text) => {
              field.value += text;
            },
            suggest: () => {
              field.value = "suggested";
            },
          };
        }}
        aria-label="Answer"
      />
    </>
  );
}
const state = () => JSON.parse(screen.getByRole("status").textContent ?? "");
const field = () => screen.getByRole("textbox", { name: "Answer" }) as HTMLTextAreaElement;
const press = (key: string, at: Element = document.body) => fireEvent.keyDown(at, { key });

function open(given: Desk, answer: () => unknown = () => done({})) {
  const sent: object[] = [];
  const page = openPage(
    <Shown given={given} />,
    {
      "/": async (args) => {
        sent.push(await sentBy(args));
        return answer();
      },
    },
    "/?reply=2",
  );
  return { ...page, sent };
}

describe("a key at the desk of replies", () => {
  it("is not needed for the address to say what is open", async () => {
    const page = openPage(<Shown given={desk()} />);
    await waitFor(() => expect(page.address()).toBe("/?reply=2"));
  });

  it.each([
    ["j", "/?reply=3"],
    ["k", "/?reply=1"],
  ])("%s opens the letter beside", async (key, to) => {
    const { address } = open(desk());
    press(key);
    await waitFor(() => expect(address()).toBe(to));
  });

  it("is counted from where the last one leads, even before that letter is drawn", async () => {
    const { address } = open(desk({ replies: [1, 2, 3, 4].map((id) => reply(id)) }));
    // React draws in a task of its own, behind both.
    const strike = () =>
      document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "j", bubbles: true }));
    strike();
    for (let turn = 0; address() === "/?reply=2" && turn < 1_000; turn++) await Promise.resolve();
    strike();
    await waitFor(() => expect(address()).toBe("/?reply=4"));
  });

  it("leads nowhere beyond the list", async () => {
    const { address } = open(desk({ replies: [reply(2)] }));
    for (const key of ["j", "k"]) press(key);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(address()).toBe("/?reply=2");
  });

  it("that is a label's number sets it, and U takes it back, at the letter that got it", async () => {
    const { sent, address } = open(desk());
    press("1");
    await waitFor(() => expect(sent).toEqual([{ intent: "label", replyId: "2", label: "interested" }]));
    expect(state().last).toEqual({ id: 2, name: "Person 2", label: "INTERESTED" });
    expect(address()).toBe("/?reply=2");
    press("u");
    await waitFor(() => expect(sent.at(-1)).toEqual({ intent: "undo", replyId: "2" }));
    expect(state().last).toBeNull();
  });

  it("that settles a letter goes on to the next, and from the last one back", async () => {
    const settles = String(LABELS.indexOf("opt_out") + 1);
    const { address } = open(desk());
    press(settles);
    await waitFor(() => expect(address()).toBe("/?reply=3"));
    cleanup();
    const last = open(desk({ replies: [reply(1), reply(2)] }));
    press(settles);
    await waitFor(() => expect(last.address()).toBe("/?reply=1"));
  });

  it("U takes back the label that an open letter has had before, and nothing where there is none", async () => {
    const { sent } = open(desk());
    press("u");
    expect(sent).toEqual([]);
    cleanup();
    const labelled = open(desk({ open: reply(2, { label: { code: "away" } }) }));
    press("u");
    await waitFor(() => expect(labelled.sent).toEqual([{ intent: "undo", replyId: "2" }]));
  });

  it.each([
    [null, "read"],
    [5, "unread"],
  ])("E turns what was read at %s", async (readAt, intent) => {
    const { sent } = open(desk({ open: reply(2, { readAt }) }));
    press("e");
    await waitFor(() => expect(sent).toEqual([{ intent, replyId: "2" }]));
  });

  it("writes into the answer: the link, the times or else the link, a suggestion, or nothing yet", () => {
    open(desk());
    press("b");
    expect(field().value).toBe("the link");
    press("t");
    expect(field().value).toBe("the linkthe link");
    press("d");
    expect(field().value).toBe("suggested");
    press("r");
    expect(document.activeElement).toBe(field());
  });

  it("is a letter while somebody types", () => {
    const { sent } = open(desk());
    for (const key of ["1", "e", "h", "d"]) press(key, field());
    expect(sent).toEqual([]);
    expect(field().value).toBe("");
    expect(state()).toEqual({ last: null, side: null });
  });

  it.each([
    ["h", "hand-over"],
    ["n", "note"],
    ["l", "remind"],
  ])("%s opens what is done beside", (key, side) => {
    open(desk());
    press(key);
    expect(state().side).toBe(side);
  });
});

describe("a colleague's letter", () => {
  const theirs = desk({ notYours: "It came to Jonas." });

  it("is not handed over, turned or labelled, but for an opt-out, which everybody hears", async () => {
    const { sent } = open(theirs);
    for (const key of ["h", "e", "1", "2", "6"]) press(key);
    expect(state()).toEqual({ last: null, side: null });
    press(String(LABELS.indexOf("opt_out") + 1));
    await waitFor(() => expect(sent).toEqual([{ intent: "label", replyId: "2", label: "opt_out" }]));
    press("n");
    expect(state().side).toBe("note");
  });
});

it("what cannot be labelled gets no label", () => {
  const { sent } = open(desk({ open: reply(2, { kind: "bounce" }) }));
  press("1");
  expect(sent).toEqual([]);
});

it("with nothing open no key does anything", () => {
  const { sent } = open(desk({ open: null, replies: [] }));
  for (const key of ["1", "u", "e", "h", "j", "k"]) press(key);
  expect(sent).toEqual([]);
  expect(state()).toEqual({ last: null, side: null });
});

it("a refusal is said", async () => {
  open(desk(), () => refused({ form: "Somebody else answers them now." }));
  press("1");
  expect((await screen.findByRole("alert")).textContent).toBe("Somebody else answers them now.");
  // Nothing is announced, and nothing is left to take back.
  expect(state().last).toBeNull();
});
