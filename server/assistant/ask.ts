/**
 * The writing assistant, over HTTP: its own small API, or any service that speaks the common chat-completions API. What it
 * answers is a draft for a person to read; nothing of it goes out by itself.
 */

import { z } from "zod";
import { type By, mayNot } from "../accounts/may-not.ts";
import type { App } from "../app.ts";
import { readSetting, writeSetting } from "../db/settings.ts";
import { AppError, done, fieldErrors, type Outcome, refused, unreachedWords } from "../errors.ts";
import { askOutside } from "../outside/ask.ts";
import { seal, unseal } from "../secrets.ts";

const NAME = "assistant";
const PATIENCE = 60_000;

const stored = z.object({
  url: z.string().default(""),
  api: z.enum(["own", "chat"]).default("own"),
  model: z.string().default(""),
  keySealed: z.string().default(""),
  /** It may read replies that the model here is unsure of. */
  readsReplies: z.boolean().default(false),
});

export interface AssistantSettings {
  /** "" for none. */
  url: string;
  api: "own" | "chat";
  model: string;
  hasKey: boolean;
  readsReplies: boolean;
}

const read = ({ db }: App) => stored.parse(JSON.parse(readSetting(db, NAME) ?? "{}"));

export function readAssistant(app: App): AssistantSettings {
  const { url, api, model, keySealed, readsReplies } = read(app);
  return { url, api, model, hasKey: keySealed !== "", readsReplies };
}

const form = z.object({
  url: z
    .string()
    .trim()
    .refine(
      (text) => text === "" || /^https?:\/\/[^\s]+$/.test(text),
      "Write an address like https://assistant.example/v1.",
    ),
  api: z.enum(["own", "chat"]),
  model: z.string().trim().max(100),
  /** "" keeps the one that is stored. */
  key: z.string().trim().max(500).default(""),
  readsReplies: z
    .enum(["on", "off"])
    .default("off")
    .transform((value) => value === "on"),
});

export function saveAssistant(app: App, by: By, input: unknown): Outcome<null> {
  const no = mayNot(app, by, "settings.team");
  if (no) return no;
  const parsed = form.safeParse(input);
  if (!parsed.success) return refused(fieldErrors(parsed.error));
  const { key, ...settings } = parsed.data;
  const before = read(app);
  // Another address never gets the key that was meant for the one before.
  const kept = settings.url === before.url ? before.keySealed : "";
  writeSetting(
    app.db,
    NAME,
    JSON.stringify({ ...settings, keySealed: key === "" ? kept : seal(key, app.key) }),
  );
  return done(null);
}

export interface Question<T> {
  /** The path of our own API. */
  path: "/sequence" | "/email" | "/wordings" | "/label" | "/answer";
  body: unknown;
  /** What a chat model is told, besides the body. */
  instructions: string;
  answer: z.ZodType<T>;
  /** Told what the answer cost, in the service's own count (tokens), where it says so. */
  counts?: (tokens: number) => void;
}

/** Asks, and reads the answer strictly. Throws `assistant_failed`, with words for the person who asked. */
export async function askAssistant<T>(app: App, question: Question<T>, signal?: AbortSignal): Promise<T> {
  const settings = read(app);
  const base = settings.url || app.config.assistant;
  if (!base)
    throw new AppError("assistant_failed", "None is set up: a manager can name one under Settings, Company.");
  const headers: Record<string, string> = { "content-type": "application/json" };
  if (settings.keySealed !== "" && settings.url !== "")
    headers.authorization = `Bearer ${unseal(settings.keySealed, app.key)}`;
  const isChat = settings.url !== "" && settings.api === "chat";
  const url = `${base.replace(/\/+$/, "")}${isChat ? "/chat/completions" : question.path}`;
  try {
    const { status, text } = await askOutside(app.config, url, {
      method: "POST",
      headers,
      body: JSON.stringify(isChat ? chatBody(settings.model, question) : question.body),
      patience: PATIENCE,
      isConfigured: settings.url === "",
      ...(signal ? { signal } : {}),
    });
    if (status < 200 || status > 299) throw new Error(`it answered ${status}`);
    const answer: unknown = JSON.parse(text);
    question.counts?.(spent.parse(answer).usage.total_tokens);
    return question.answer.parse(isChat ? fromChat(answer) : answer);
  } catch (error) {
    throw new AppError(
      "assistant_failed",
      `At ${base}: ${unreachedWords(error)}. What you wrote is kept; try again.`,
    );
  }
}

const chatBody = (model: string, { instructions, body }: Question<unknown>) => ({
  ...(model === "" ? {} : { model }),
  messages: [
    {
      role: "system",
      content: `You help a sales development rep to write honest, short business emails without clichés. ${instructions} Answer with one JSON object and nothing else.`,
    },
    { role: "user", content: JSON.stringify(body) },
  ],
});

const spent = z.object({ usage: z.object({ total_tokens: z.number().catch(0) }).catch({ total_tokens: 0 }) });
const chatAnswer = z.object({
  choices: z.array(z.object({ message: z.object({ content: z.string() }) })).min(1),
});

/** The JSON in a chat's answer, also where it stands in a fence. */
function fromChat(answer: unknown): unknown {
  const [choice] = chatAnswer.parse(answer).choices;
  const text = choice?.message.content ?? "";
  const from = text.indexOf("{");
  const to = text.lastIndexOf("}");
  if (from < 0 || to < from) throw new Error("its answer holds no JSON");
  return JSON.parse(text.slice(from, to + 1));
}
