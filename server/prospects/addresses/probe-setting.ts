/** Whether mail servers are asked about addresses: a manager's choice, off until somebody makes it. */
import { type By, mayNot } from "../../accounts/may-not.ts";
import type { App } from "../../app.ts";
import { readSetting, writeSetting } from "../../db/settings.ts";
import { done, type Outcome } from "../../errors.ts";

/** In the demo the servers are our own, so it begins switched on. */
export function isProbeOn({ db, config }: App): boolean {
  const value = readSetting(db, "probe");
  return value === null ? config.demo : value === "on";
}

export function setProbe(app: App, by: By, on: boolean): Outcome<null> {
  const no = mayNot(app, by, "probe.switch");
  if (no) return no;
  writeSetting(app.db, "probe", on ? "on" : "off");
  return done(null);
}

/** Pause between two questions to one server, in milliseconds: as slow as a person would type, but for our own servers. */
export const probePause = ({ config }: App) => (config.demo ? 0 : 1_500);
