import { readFileSync } from "node:fs";
import { pathToFileURL } from "node:url";
import { expect, it } from "vitest";
import { built } from "./processes.ts";
import { traceOf } from "./trace.ts";

it("a line of the build is said as the line of its source", () => {
  const file = built("server/engine/main.ts");
  const before = readFileSync(file, "utf8").split("function keepWhoStopped")[0]?.split("\n") ?? [];
  const place = `${before.length}:${(before.at(-1)?.length ?? 0) + 1}`;
  const error = new Error("broken");
  error.stack = `Error: broken\n    at keepWhoStopped (${pathToFileURL(file).href}:${place})\n    at node:internal/timers:503:11`;
  const source = readFileSync("server/engine/main.ts", "utf8").split("\n");
  const said = traceOf(error).split("\n");
  const [, where] = /\(server\/engine\/main\.ts:(\d+):\d+\)$/.exec(said[1] ?? "") ?? [];
  expect(source[Number(where) - 1]).toContain("function keepWhoStopped");
  expect([said[0], said[2]]).toEqual(["Error: broken", "    at node:internal/timers:503:11"]);
  expect(traceOf("words")).toBe("words");
  // A stack of another build, whose maps are gone, is said as it is.
  error.stack = "Error: old\n    at run (file:///srv/build/server/server/gone.js:1:2)";
  expect(traceOf(error)).toBe(error.stack);
});
