/** Whether mail servers are asked about addresses: a rep's choice, off until somebody makes it. */
import type { App } from "../../app.ts";
import { readSetting, writeSetting } from "../../db/settings.ts";

/** In the demo the servers are our own, so it begins switched on. */
export function isProbeOn({ db, config }: App): boolean {
  const value = readSetting(db, "probe");
  return value === null ? config.demo : value === "on";
}

export function setProbe({ db }: App, on: boolean): void {
  writeSetting(db, "probe", on ? "on" : "off");
}

/** Pause between two questions to one server, in milliseconds: as slow as a person would type, but for our own servers. */
export const probePause = ({ config }: App) => (config.demo ? 0 : 1_500);
