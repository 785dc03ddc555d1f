import { spawn } from "node:child_process";
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openApp } from "../app.ts";
import { mediaOf, projectRoot, readConfig } from "../config.ts";
import { built } from "../processes.ts";
import { keyFileOf, loadKey } from "../secrets.ts";
import { addPeople, createWorld, type World } from "../tests/world.ts";
import { backUp, copyIsDue, newestCopyAt, nightlyCopy, restore } from "./backup.ts";

const DAY = 86_400_000;
let world: World;
let folder: string;
const path = (name: string) => join(folder, name);
beforeEach(async () => {
  world = await createWorld({ standin: false });
  addPeople(world, ["ana", "bia"]);
  folder = mkdtempSync(join(tmpdir(), "saudade-backup-"));
});
afterEach(async () => {
  await world.close();
  rmSync(folder, { recursive: true, force: true });
});
const people = (file: string) => {
  const db = new Database(file, { readonly: true });
  const count = db.prepare("SELECT count(*) FROM prospects").pluck().get();
  db.close();
  return count;
};
/** Runs one of the commands as a person would. */
function command(name: "backup" | "restore", file: string, env: Record<string, string>) {
  const child = spawn(process.execPath, [built("server/backup-command.ts"), name, file], {
    env: { ...process.env, INIT_CWD: folder, ...env },
  });
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (said += chunk));
  return new Promise<{ code: number | null; said: string }>((resolve) =>
    child.once("exit", (code) => resolve({ code, said })),
  );
}

describe("a backup", () => {
  it("made while others write holds all that was committed before it, the key, and opens elsewhere", async () => {
    const { database } = world.app.config;
    const writer = spawn(process.execPath, [
      "--import",
      "tsx",
      join(projectRoot, "bench/busy-writer.ts"),
      database,
    ]);
    await new Promise((ready) => writer.stdout.once("data", ready));
    // Committed, and still in the write-ahead log: what a copy of the file alone would lose.
    world.app.db.pragma("wal_autocheckpoint = 0");
    addPeople(world, ["caio", "dora"]);
    await backUp(database, world.app.key, path("a.db"));
    writer.kill();
    expect(statSync(path("a.db")).mode & 0o777).toBe(0o600);

    const elsewhere = path("new/saudade.db");
    expect(restore(path("a.db"), elsewhere, undefined, 0)).toBeNull();
    const app = openApp(readConfig({ SAUDADE_DB: elsewhere }));
    expect(app.key.equals(world.app.key)).toBe(true);
    app.db.close();
    expect(people(elsewhere)).toBe(4);
    expect(statSync(keyFileOf(elsewhere)).mode & 0o777).toBe(0o600);
  });

  it("takes the place of what is there, which is kept beside it", async () => {
    const target = path("live.db");
    writeFileSync(target, "damaged");
    writeFileSync(keyFileOf(target), "0".repeat(64));
    await backUp(world.app.config.database, world.app.key, path("a.db"));
    const aside = restore(path("a.db"), target, undefined, Date.parse("2026-06-09T10:00:00Z"));
    expect(aside).toBe(`${target}.before-20260609T100000Z`);
    expect(existsSync(String(aside))).toBe(true);
    expect(people(target)).toBe(2);
  });

  it("is refused where it would overwrite, is none, is damaged or newer, and nothing is changed", async () => {
    const target = path("live.db");
    const into = () => restore(path("a.db"), target, undefined, 0);
    expect(into).toThrow("There is no file");
    writeFileSync(path("a.db"), "no database at all, but long enough to be read as one ".repeat(100));
    expect(into).toThrow("cannot be restored");
    rmSync(path("a.db"));
    await backUp(world.app.config.database, world.app.key, path("a.db"));
    await expect(backUp(world.app.config.database, world.app.key, path("a.db"))).rejects.toThrow(
      "is there already",
    );
    const newer = new Database(path("a.db"));
    newer.pragma("user_version = 9999");
    newer.close();
    expect(into).toThrow("newer version");
    const plain = new Database(path("a.db"));
    plain.exec("DROP TABLE backup_key");
    plain.close();
    expect(into).toThrow("holds no key");
    expect(readdirSync(folder)).toEqual(["a.db"]);
  });

  it("is one command each way, and no restore under a running engine", async () => {
    const live = { SAUDADE_DB: world.app.config.database, SAUDADE_KEY: "0".repeat(64) };
    expect(await command("backup", "mine.db", live)).toEqual({
      code: 0,
      said: expect.stringContaining("mine.db holds the database, its films and its key"),
    });
    const target = path("other/saudade.db");
    expect((await command("restore", "mine.db", { SAUDADE_DB: target })).code).toBe(0);
    expect(people(target)).toBe(2);
    const db = new Database(target);
    db.prepare("INSERT INTO engine_lease (id, holder, expires_wall) VALUES (1, 'x', ?)").run(
      Date.now() + 60_000,
    );
    db.close();
    expect(await command("restore", "mine.db", { SAUDADE_DB: target })).toEqual({
      code: 1,
      said: expect.stringContaining("Stop it first"),
    });
  });

  it("goes where the key is given, if it was made with that one, and leaves no key beside it", async () => {
    await backUp(world.app.config.database, world.app.key, path("mine.db"));
    const target = path("given.db");
    expect(() => restore(path("mine.db"), target, "1".repeat(64), 0)).toThrow("another key than SAUDADE_KEY");
    expect(existsSync(target)).toBe(false);
    expect(restore(path("mine.db"), target, "0".repeat(64), 0)).toBeNull();
    expect(existsSync(keyFileOf(target))).toBe(false);
    expect(people(target)).toBe(2);
  });

  it("is made each night, and kept for a fortnight", async () => {
    const wall = Date.now();
    for (const age of [1, 13, 15, 40]) {
      const name = path(`saudade-2026-01-${10 + age}.db`);
      writeFileSync(name, "");
      utimesSync(name, (wall - age * DAY) / 1000, (wall - age * DAY) / 1000);
    }
    await nightlyCopy(world.app.config.database, world.app.key, folder, wall);
    expect(readdirSync(folder)).toHaveLength(3);
    expect(newestCopyAt(folder)).toBeGreaterThan(wall - 60_000);
    expect(copyIsDue(null, wall)).toBe(true);
    const four = new Date(wall).setHours(4, 0, 0, 0);
    expect(copyIsDue(four - DAY, four)).toBe(true);
    expect(copyIsDue(four - 30 * 60_000, four)).toBe(false);
  });
});

describe("films", () => {
  const film = Buffer.alloc(5_000_000, "film");
  const NAME = "0123456789abcdef.film";
  beforeEach(() => {
    const { media } = world.app.config;
    mkdirSync(media, { recursive: true });
    writeFileSync(join(media, NAME), film);
    writeFileSync(join(media, "fedcba9876543210.gif"), "drawn anew from what is known");
  });
  const broughtTo = (file: string, name: string) => {
    restore(file, path(`${name}.db`), undefined, 0);
    return readFileSync(join(mediaOf(path(`${name}.db`)), NAME));
  };

  it("are in a backup that is made by hand, and come back with it", async () => {
    await backUp(world.app.config.database, world.app.key, path("a.db"));
    expect(broughtTo(path("a.db"), "one").equals(film)).toBe(true);
    const db = new Database(path("one.db"), { readonly: true });
    expect(db.prepare("SELECT name FROM sqlite_master WHERE name LIKE 'backup_%'").all()).toEqual([]);
    db.close();
  });

  it("lie beside the nightly copies, once for all of them, as long as any of these could want them", async () => {
    const { database, media } = world.app.config;
    const wall = Date.now();
    await nightlyCopy(database, world.app.key, folder, wall);
    await nightlyCopy(database, world.app.key, folder, wall + DAY);
    expect(readdirSync(path("films"))).toEqual([NAME]);
    const copy = readdirSync(folder).find((name) => name.startsWith("saudade-")) ?? "";
    expect(broughtTo(path(copy), "two").equals(film)).toBe(true);
    rmSync(join(media, NAME));
    await nightlyCopy(database, world.app.key, folder, wall + 2 * DAY);
    expect(readdirSync(path("films"))).toEqual([NAME]);
    await nightlyCopy(database, world.app.key, folder, wall + 16 * DAY);
    expect(readdirSync(path("films"))).toEqual([]);
  });
});

describe("the key", () => {
  it("is made once, for nobody else's eyes, and never anew beside data that only the old one opens", () => {
    const config = { key: undefined, database: path("k.db") };
    const made = loadKey(config, false);
    expect(statSync(keyFileOf(config.database)).mode & 0o777).toBe(0o600);
    expect(loadKey(config, true).equals(made)).toBe(true);
    for (const broken of ["", "abc", "0".repeat(63)]) {
      writeFileSync(keyFileOf(config.database), broken);
      expect(() => loadKey(config, true)).toThrow("64 hexadecimal digits");
      expect(() => loadKey(config, false)).toThrow("64 hexadecimal digits");
    }
    rmSync(keyFileOf(config.database));
    expect(() => loadKey(config, true)).toThrow("missing or damaged");
  });

  it("is asked for before anything starts on a database that has users", () => {
    const config = readConfig({ SAUDADE_DB: world.app.config.database });
    expect(() => openApp(config)).toThrow("Put the file back");
    expect(statSync(world.app.config.database).mode & 0o077).toBe(0o000);
  });
});
