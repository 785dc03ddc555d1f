/** Asked of the source: whatever can be pressed, somebody shows why it was refused. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";

const files = readdirSync("app", { recursive: true, encoding: "utf8" })
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.|use-action\.tsx$|^tests\//.test(file))
  .map((file) => ({ file, text: readFileSync(join("app", file), "utf8") }));

/** Each use of the hook: what its outcome is called, or which parts of it are taken. */
const uses = files.flatMap(({ file, text }) =>
  [...text.matchAll(/const (\w+|\{[^}]*\}) = useAction\b/g)].map(([, name = ""]) => ({ file, text, name })),
);

it("every press shows its refusal, or hands itself to what does", () => {
  expect(uses.length).toBeGreaterThan(40);
  const silent = uses.filter(({ text, name }) =>
    name.startsWith("{")
      ? !/\berrors\b/.test(name)
      : !new RegExp(
          `\\b${name}\\.errors\\b|(of|act)=\\{${name}\\}|\\{ errors[^}]*\\} = ${name}\\b|errors[^}]*\\} = ${name}\\b|^    ${name},$|\\.\\.\\.${name}\\b`,
          "m",
        ).test(text),
  );
  // What can only be done: notices seen, the demo's clock.
  expect(silent.map(({ file, name }) => `${file} ${name}`)).toEqual([
    "desk/bell.tsx seen",
    "desk/day-line.tsx move",
  ]);
});

it("no page asks the server but through the kit", () => {
  const own = files.filter(({ text }) => /\buseSubmit\(|\bfetch\(/.test(text)).map(({ file }) => file);
  expect(own).toEqual(["components/ask-server.ts"]);
  // What only reads loads by itself.
  const reads = files.filter(({ text }) => /\buseFetcher\b/.test(text) && !/\.submit\(/.test(text));
  const sends = files.filter(
    ({ text }) => /\buseFetcher\b/.test(text) && /\.submit\(|\.Form\b.*fetcher/.test(text),
  );
  expect(reads.length).toBeGreaterThan(0);
  expect(sends).toEqual([]);
});
