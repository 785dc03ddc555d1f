/** Drafts by the writing assistant: by our own API and by the common chat API, answered, late, wrong and not at all. */
import { createServer, type Server } from "node:http";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { everyStep } from "../../core/sequence/path.ts";
import { pathProblems } from "../../core/sequence/path-problems.ts";
import { readAssistant, saveAssistant } from "../assistant/ask.ts";
import { readSetting } from "../db/settings.ts";
import { startProcess } from "../processes.ts";
import { freePort } from "../tests/free-port.ts";
import { createWorld, type World } from "../tests/world.ts";
import { draftEmail, draftSequence, otherWordings } from "./draft-help.ts";

let world: World;
let standin: Awaited<ReturnType<typeof startProcess>>;
let standinUrl: string;
let chat: Server;
let chatUrl: string;
const asked: { key: string | undefined; body: Record<string, unknown> }[] = [];
let says = "";

beforeAll(async () => {
  world = await createWorld({ standin: false });
  const port = await freePort();
  standin = await startProcess("writing assistant", "standins/assistant/main.ts", {
    ASSISTANT_PORT: String(port),
  });
  standinUrl = `http://127.0.0.1:${port}`;
  chat = createServer(async (request, response) => {
    const chunks: Buffer[] = [];
    for await (const chunk of request) chunks.push(chunk as Buffer);
    asked.push({ key: request.headers.authorization, body: JSON.parse(Buffer.concat(chunks).toString()) });
    response.setHeader("content-type", "application/json");
    response.end(JSON.stringify({ choices: [{ message: { content: says } }] }));
  });
  const chatPort = await freePort();
  await new Promise<void>((ready) => chat.listen(chatPort, "127.0.0.1", ready));
  chatUrl = `http://127.0.0.1:${chatPort}/v1`;
});
afterAll(async () => {
  await standin.stop();
  chat.close();
  await world.close();
});

const brief = {
  who: "We make small loggers that record humidity in display cases",
  whom: "registrars of mid-size museums",
  goal: "Look at a sample sheet with me for ten minutes.",
  value: "The record of a loan is ready the same afternoon",
  channels: ["email", "social", "call"],
  steps: 5,
};
const useStandin = () => saveAssistant(world.app, null, { url: standinUrl, api: "own", model: "" });
const useChat = (key = "") =>
  saveAssistant(world.app, null, { url: chatUrl, api: "chat", model: "small", key });

describe("the stand-in", () => {
  it.each(["en", "de", "pt"])(
    "drafts a sequence that could start as it is, from what the brief says and no more (%s)",
    async (language) => {
      useStandin();
      const draft = await draftSequence(world.app, { ...brief, language });
      if (!draft.ok) throw new Error(JSON.stringify(draft.errors));
      const { path } = draft.value;
      expect(everyStep(path)).toHaveLength(5);
      expect(new Set(everyStep(path).map(({ kind }) => kind)).size).toBeGreaterThan(2);
      expect(pathProblems(path, { tracksOpens: false, tracksClicks: false, stopsOnReply: true })).toEqual([]);
      expect(JSON.stringify(path)).toContain("small loggers that record humidity");
      expect(JSON.stringify(path)).not.toMatch(/\d+ ?%|best|leading|revolution/i);
      const again = await draftSequence(world.app, { ...brief, language });
      const words = (made: Awaited<ReturnType<typeof draftSequence>>) =>
        made.ok ? everyStep(made.value.path).map(({ name }) => name) : [];
      expect(words(again)).toEqual(words(draft));
    },
  );

  it("words a text shorter and plainer, and leaves merge fields as they are", async () => {
    useStandin();
    const text =
      "I just wanted to ask {{ first_name }} whether you utilize loggers in order to keep a record, and whether they really help. They are small and quiet and run for three years.";
    const plainer = await otherWordings(world.app, { text, wish: "plainer" });
    expect(plainer.ok && plainer.value[0]).toContain("use loggers to keep a record");
    const shorter = await otherWordings(world.app, { text, wish: "shorter" });
    if (!shorter.ok) throw new Error("no wordings");
    for (const each of shorter.value) expect(each.length).toBeLessThan(text.length);
    expect(shorter.value.join()).toContain("{{ first_name }}");
  });

  it("asks for what is missing in the brief, at its field", async () => {
    expect(await draftEmail(world.app, { ...brief, who: "x", goal: "" })).toMatchObject({
      ok: false,
      errors: { who: expect.any(String), goal: expect.any(String) },
    });
  });
});

describe("a service with the chat API", () => {
  it("is asked with its key and model, and its JSON is read, in a fence too", async () => {
    useChat("secret-key");
    says = 'Here you are:\n```json\n{"subject":"Loans","text":"Hello {{ first_name }}, one question."}\n```';
    expect(await draftEmail(world.app, brief)).toEqual({
      ok: true,
      value: { subject: "Loans", text: "Hello {{ first_name }}, one question." },
    });
    expect(asked.at(-1)).toMatchObject({ key: "Bearer secret-key", body: { model: "small" } });
    expect(readSetting(world.app.db, "assistant")).not.toContain("secret-key");
  });

  it("keeps its key from another address", () => {
    useChat("secret-key");
    useChat();
    expect(readAssistant(world.app).hasKey).toBe(true);
    useStandin();
    expect(readAssistant(world.app).hasKey).toBe(false);
  });

  it.each([
    ["says something that is no JSON", "I would rather not."],
    ["sends what was not asked for", '{"steps": "many"}'],
  ])("that %s is answered in words, and nothing is made", async (_, words) => {
    useChat();
    says = words;
    const draft = await draftSequence(world.app, brief);
    expect(draft.ok ? "" : draft.errors.form).toMatch(
      /^The writing assistant gave no draft\..*What you wrote is kept/,
    );
  });

  it("that is not there is named with its address", async () => {
    saveAssistant(world.app, null, { url: "http://127.0.0.1:9/v1", api: "chat", model: "" });
    const draft = await draftSequence(world.app, brief);
    expect(draft.ok ? "" : draft.errors.form).toContain("At http://127.0.0.1:9/v1");
  });
});
