/** Films and moving pictures: files in a folder beside the database, by names that nobody guesses. */
import { randomBytes } from "node:crypto";
import { mkdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { App } from "../app.ts";

const NAME = /^[\w-]{8,64}\.(film|gif)$/;

export const newMediaName = (ending: "film" | "gif"): string =>
  `${randomBytes(16).toString("hex")}.${ending}`;

/** Where a file lies. Throws for a name that is none of ours. */
export function mediaPath({ config }: Pick<App, "config">, name: string): string {
  if (!NAME.test(name)) throw new Error(`“${name}” is no file of ours.`);
  return join(config.media, name);
}

/** Makes the folder, for nobody else on this machine. */
export const makeMediaFolder = ({ config }: Pick<App, "config">): void => {
  mkdirSync(config.media, { recursive: true, mode: 0o700 });
};

/** Throws, in words, where the file is gone. */
export function readMedia(app: Pick<App, "config">, name: string): Buffer {
  try {
    return readFileSync(mediaPath(app, name));
  } catch {
    throw new Error("its moving picture is no longer here. It is made again within a minute.");
  }
}
