/**
 * Where an error came from, in terms of the sources. The maps of the build are read when something fails, and not when a
 * program starts: read whole, they take more memory than the programs themselves.
 */
import { existsSync, readFileSync } from "node:fs";
import { SourceMap } from "node:module";
import { dirname, relative, resolve } from "node:path";
import { projectRoot } from "./config.ts";

const BUILT_LINE = /file:\/\/(\/[^\s():]+\/build\/server\/[^\s():]+\.js):(\d+):(\d+)/g;
const maps = new Map<string, SourceMap | null>();

function mapOf(file: string): SourceMap | null {
  let map = maps.get(file);
  if (map === undefined) {
    const path = `${file}.map`;
    map = existsSync(path) ? new SourceMap(JSON.parse(readFileSync(path, "utf8"))) : null;
    maps.set(file, map);
  }
  return map;
}

/** An error's stack for the log, each line of the build replaced by the source's. */
export function traceOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return (error.stack ?? error.message).replace(
    BUILT_LINE,
    (line, file: string, row: string, column: string) => {
      const found = mapOf(file)?.findEntry(Number(row) - 1, Number(column) - 1);
      if (!found || !("originalSource" in found)) return line;
      const source = relative(projectRoot, resolve(dirname(file), found.originalSource));
      return `${source}:${found.originalLine + 1}:${found.originalColumn + 1}`;
    },
  );
}
