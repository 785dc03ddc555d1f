/** Every link that the program writes leads to a page that there is, and every "#" to a part of it. */
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { matchRoutes, type RouteObject } from "react-router";
import { expect, it } from "vitest";
import routes from "../routes";

const SOURCES = ["app", "server/notices", "server/today"]
  .flatMap((room) =>
    readdirSync(room, { recursive: true, withFileTypes: true }).map(({ parentPath, name }) =>
      join(parentPath, name),
    ),
  )
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|(app|server)\/tests\//.test(file))
  .map((file) => ({ file, text: readFileSync(file, "utf8") }));

interface Link {
  at: string;
  /** With "1" wherever something is put in. */
  to: string;
}

const WAYS = [
  /\b(?:to|href|path|place)(?:=\{?|: )\s*([`"])(\/[^`"]*)\1/g,
  /\b(?:navigate|redirect)\(\s*([`"])(\/[^`"]*)\1/g,
  /\breturn ([`"])(\/[^`"]*)\1;/g,
  /[?:] ([`"])(\/[^`"\s]*)\1\s*[}):,;]/g,
];
const links: Link[] = SOURCES.flatMap(({ file, text }) =>
  WAYS.flatMap((way) =>
    [...text.matchAll(way)]
      // What an action is asked at is visited by nobody.
      .filter(({ index }) => !/\buse(Action|Question)(<[^(]*>)?\([^)]*$/.test(text.slice(index - 120, index)))
      .map(({ 2: to = "", index }) => ({
        at: `${file}:${text.slice(0, index).split("\n").length}`,
        to: to.replace(/\$\{[^}]*\}/g, "1"),
      })),
  ),
).filter(({ to }) => /^\/[\w/?#=&.-]*$/.test(to));

/** The file of a route answers a visit if it shows something or loads something. */
const visited = (file: string) => {
  const text = readFileSync(`app/${file}`, "utf8");
  return {
    isPage: /export default /.test(text),
    loads: /export (async )?(function|const) loader/.test(text),
  };
};
const fileAt = (to: string): string | undefined =>
  (
    matchRoutes(routes as RouteObject[], to.replace(/[?#].*$/, "") || "/")?.at(-1)?.route as
      | { file?: string }
      | undefined
  )?.file;

it("finds the links at all", () => {
  expect(links.length).toBeGreaterThan(120);
  expect(links.map(({ to }) => to)).toContain("/sending/mailboxes/new");
});

it("a link leads to a route that answers a visit", () => {
  const dead = links.filter(({ to }) => {
    if (existsSync(join("public", to))) return false;
    const file = fileAt(to);
    if (file === undefined) return true;
    const { isPage, loads } = visited(file);
    return !isPage && !loads;
  });
  expect(dead).toEqual([]);
});

it("a link within a page leads to a part that is there", () => {
  const text = SOURCES.filter(({ file }) => file.startsWith("app/"))
    .map((each) => each.text)
    .join("\n");
  const hashes = [...text.matchAll(/\bto(?:=|: )["`](\/?[\w/?=]*)#([a-z][\w-]*)["`]/g)].map(
    ({ 1: page = "", 2: id = "" }) => ({ page, id }),
  );
  expect(hashes.length).toBeGreaterThan(2);
  // Of "#part" alone nobody knows on which page it is pressed.
  expect(hashes.filter(({ page, id }) => page === "" || !text.includes(`id="${id}"`))).toEqual([]);
});
