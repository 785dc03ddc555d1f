/**
 * Where an error came from, in terms of the sources. The maps of the build are read when something fails, and not when a
 * program starts: read whole, they take more memory than the programs themselves.
 */
import { readFileSync } from "node:fs";
import { SourceMap } from "node:module";
import { dirname, relative, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { projectRoot } from "./config.ts";

const BUILT_LINE = /(file:\/\/\S+?\/build\/server\/\S+?\.js):(\d+):(\d+)/g;
const maps = new Map<string, SourceMap | null>();

function mapOf(file: string): SourceMap | null {
  let map = maps.get(file);
  if (map === undefined) {
    try {
      map = new SourceMap(JSON.parse(readFileSync(`${file}.map`, "utf8")));
    } catch {
      map = null; // the build's own line is better than no line
    }
    maps.set(file, map);
  }
  return map;
}

/** An error's stack for the log, each line of the build replaced by the source's. */
export function traceOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return (error.stack ?? error.message).replace(
    BUILT_LINE,
    (line, url: string, row: string, column: string) => {
      const file = fileURLToPath(url);
      const found = mapOf(file)?.findEntry(Number(row) - 1, Number(column) - 1);
      if (!found || !("originalSource" in found)) return line;
      const source = relative(projectRoot, resolve(dirname(file), found.originalSource));
      return `${source}:${found.originalLine + 1}:${found.originalColumn + 1}`;
    },
  );
}
