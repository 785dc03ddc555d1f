import { EventEmitter } from "node:events";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { log } from "./log.ts";
import type { Started } from "./processes.ts";
import { Supervisor } from "./supervisor.ts";

beforeEach(() => {
  log.level = "silent";
  vi.useFakeTimers();
});
afterEach(() => vi.useRealTimers());

/** Processes that start or not as they are told, and the minutes at which each was tried. */
function machine(starts: () => boolean) {
  const began = Date.now();
  const triedAt: number[] = [];
  const alive: EventEmitter[] = [];
  const stopped: EventEmitter[] = [];
  const supervisor = new Supervisor(async () => {
    triedAt.push((Date.now() - began) / 1000);
    if (!starts()) throw new Error("It ended while starting.");
    const child = new EventEmitter();
    alive.push(child);
    return { child: child as Started["child"], stop: async () => void stopped.push(child) };
  });
  const die = () => alive.at(-1)?.emit("exit", 1);
  return { supervisor, triedAt, stopped, die };
}
const seconds = (count: number) => vi.advanceTimersByTimeAsync(count * 1000);

it("a process that dies while starting is tried again, each time after twice the rest, and for ever", async () => {
  let starts = true;
  const { supervisor, triedAt, die } = machine(() => starts);
  await supervisor.keep("engine", "engine.ts");
  starts = false;
  die();
  await seconds(600);
  expect(triedAt.slice(0, 8)).toEqual([0, 0, 1, 3, 7, 15, 31, 63]);
  expect(triedAt.at(-1)).toBeGreaterThan(540);
  starts = true;
  await seconds(60);
  const tries = triedAt.length;
  await seconds(600);
  expect(triedAt).toHaveLength(tries);
});

it("one that ran for long is back at once", async () => {
  const { supervisor, triedAt, die } = machine(() => true);
  await supervisor.keep("engine", "engine.ts");
  for (let nth = 0; nth < 3; nth++) {
    die();
    await seconds(10);
  }
  expect(triedAt).toEqual([0, 0, 11, 22]);
  await seconds(70);
  die();
  await seconds(1);
  expect(triedAt.at(-1)).toBe(100);
});

it("the very first start that fails is told, and nothing is tried again", async () => {
  const { supervisor, triedAt } = machine(() => false);
  await expect(supervisor.keep("web server", "web.ts")).rejects.toThrow("ended while starting");
  await seconds(600);
  expect(triedAt).toHaveLength(1);
});

it("whoever is told to stop starts nothing again", async () => {
  const { supervisor, triedAt, stopped, die } = machine(() => true);
  await supervisor.keep("engine", "engine.ts");
  await supervisor.stop();
  expect(stopped).toHaveLength(1);
  die();
  await seconds(600);
  expect(triedAt).toHaveLength(1);
});
