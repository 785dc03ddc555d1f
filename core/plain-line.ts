import { collapseSpaces } from "./prospects/cleaning/text.ts";

/**
 * One line of what strangers name things, as it is shown and written into headers: without controls, signs of no width
 * and those that turn the reading direction ("photo\u202egnp.exe"), at most so many characters.
 */
export const plainLine = (text: string, most: number): string =>
  Array.from(collapseSpaces(text)).slice(0, most).join("").trim();

/** The same for a file's name, without a path before it and what breaks a header; "file" where nothing is left. */
export function plainFileName(name: string, most = 120): string {
  const bare = plainLine(name.split(/[/\\]/).at(-1) ?? "", 1_000).replaceAll('"', "");
  const ending = bare.match(/\.[\p{L}\p{N}]{1,10}$/u)?.[0] ?? "";
  const stem = bare.slice(0, bare.length - ending.length);
  return stem + ending === "" ? "file" : plainLine(stem, most - ending.length) + ending;
}
