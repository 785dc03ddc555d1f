import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { DAY, MINUTE } from "../../core/calendar.ts";
import { addPeople, createWorld, PASSWORD, rows, type World } from "../tests/world.ts";
import { createFirstUser } from "./create-user.ts";
import { mayNot } from "./may-not.ts";
import { changePassword, makePasswordLink, passwordWeakness, usePasswordLink } from "./password.ts";
import {
  endOtherSessions,
  endSession,
  listSessions,
  openSession,
  SESSION_IDLES,
  signOut,
  userOfSession,
} from "./session.ts";
import { type Caller, deviceToken, signIn, signInToDemo } from "./sign-in.ts";
import { addMember, listTeam, removeMember, resetMember, setRole } from "./team.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());
const NOW = 1_800_000_000_000;
const marta = { email: "Marta@quillwater.example", password: PASSWORD };
const from = (address: string, device: string | null = null): Caller => ({ address, agent: "Test", device });
const HOME = from("192.0.2.1");
const tries = async (input: object, caller: Caller, times: number) => {
  const answers: string[] = [];
  for (let nth = 0; nth < times; nth++) {
    const outcome = await signIn(world.app, input, caller, NOW);
    answers.push(outcome.ok ? "in" : (outcome.errors.form ?? "").includes("Too many") ? "paused" : "no");
  }
  return answers;
};
/** Tries that were counted before: each real one takes as long as the hash of its password. */
const triedBefore = (email: string, address: string, times: number) => {
  const note = world.app.db.prepare("INSERT INTO sign_in_tries (email, caller, at) VALUES (?, ?, ?)");
  for (let nth = 0; nth < times; nth++) note.run(email.toLowerCase(), address, NOW);
};
/** Another user, who looks after the team. */
const manager = () => {
  world.app.db.exec(
    `INSERT INTO users (id, email, name, password_hash, time_zone, booking_slug, role, created_at)
     VALUES (99, 'helga@quillwater.example', 'Helga Lund', '', 'Europe/Lisbon', 'helga-99', 'manager', 0) ON CONFLICT DO NOTHING`,
  );
  return { ...world.user, id: 99, role: "manager" as const };
};

describe("signing in", () => {
  it("opens a session that ends with its time, without use, or with the sign-out, and keeps no token", async () => {
    const session = await signIn(world.app, marta, HOME, NOW);
    if (!session.ok) throw new Error("refused");
    expect(userOfSession(world.app, session.value, NOW)?.name).toBe("Marta Quintela");
    expect(userOfSession(world.app, session.value, NOW + SESSION_IDLES)).toBeNull();
    // Used every few days it lasts, but not for ever.
    let last = NOW;
    while (userOfSession(world.app, session.value, last)) last += 5 * DAY;
    expect(last - NOW).toBe(30 * DAY);
    expect(JSON.stringify(rows(world, "SELECT * FROM sessions"))).not.toContain(session.value);
    const other = openSession(world.app, world.userId, "", NOW);
    signOut(world.app, other);
    expect(userOfSession(world.app, other, NOW)).toBeNull();
  });

  it("pauses after five failures from one caller for one address, even with the right password, and not for others", async () => {
    expect(await tries({ ...marta, password: "no" }, HOME, 6)).toEqual([
      "no",
      "no",
      "no",
      "no",
      "no",
      "paused",
    ]);
    expect(await tries(marta, HOME, 1)).toEqual(["paused"]);
    expect(await tries({ email: "rui@x.example", password: "x" }, HOME, 1)).toEqual(["no"]);
    expect((await signIn(world.app, marta, HOME, NOW + 16 * MINUTE)).ok).toBe(true);
  });

  it("is not kept from its owner by strangers, however many and from wherever they try", async () => {
    for (let stranger = 0; stranger < 20; stranger++)
      triedBefore(marta.email, `198.51.100.${stranger}`, stranger === 0 ? 2 : 3);
    expect(await tries({ ...marta, password: "no" }, from("198.51.100.0"), 1)).toEqual(["no"]);
    expect(await tries({ ...marta, password: "no" }, from("203.0.113.9"), 1)).toEqual(["paused"]);
    // The browser that signed in before is counted by itself.
    const device = deviceToken(world.app, marta.email);
    expect(await tries(marta, from("198.51.100.1", device), 1)).toEqual(["in"]);
    expect(await tries(marta, from("198.51.100.1", `${device}x`), 1)).toEqual(["paused"]);
  });

  it("counts a caller's tries whatever addresses they make up, before any of them is looked at", async () => {
    for (let nth = 2; nth <= 30; nth++) triedBefore(`nobody${nth}@x.example`, HOME.address, 1);
    expect(await tries({ email: "nobody1@x.example", password: "no" }, HOME, 1)).toEqual(["no"]);
    expect(await tries({ email: "nobody31@x.example", password: "no" }, HOME, 1)).toEqual(["paused"]);
  });

  it("without a password is for the demo alone", () => {
    expect(signInToDemo(world.app, "marta@quillwater.example").ok).toBe(false);
  });

  it("lists sessions, and ends one or all others", () => {
    const [one, two, three] = [1, 2, 3].map((nth) =>
      openSession(world.app, world.userId, `Browser ${nth}`),
    ) as [string, string, string];
    const list = listSessions(world.app, world.userId, two);
    expect(list.find(({ isThis }) => isThis)?.agent).toBe("Browser 2");
    endSession(world.app, 99, list[0]?.id ?? 0);
    expect(listSessions(world.app, world.userId, two)).toHaveLength(3);
    endSession(world.app, world.userId, list.find(({ agent }) => agent === "Browser 1")?.id ?? 0);
    expect(userOfSession(world.app, one)).toBeNull();
    endOtherSessions(world.app, world.userId, two);
    expect([userOfSession(world.app, two)?.id, userOfSession(world.app, three)]).toEqual([
      world.userId,
      null,
    ]);
  });
});

describe("the first user", () => {
  it("is made once, a manager, also when four try at the same moment", async () => {
    world.app.db.exec("DELETE FROM booking_hosts; DELETE FROM booking_pages; DELETE FROM users");
    const all = await Promise.all(
      [1, 2, 3, 4].map((nth) =>
        createFirstUser(world.app, {
          name: "First",
          email: `first${nth}@y.example`,
          password: "river lantern gravel",
          zone: "UTC",
        }),
      ),
    );
    expect(all.filter(({ ok }) => ok)).toHaveLength(1);
    expect(rows(world, "SELECT role FROM users")).toEqual([{ role: "manager" }]);
  });
});

describe("a password", () => {
  it.each([
    "short",
    "password123",
    "0123456789",
    "qwertyuiop",
    "aaaaaaaaaaaa",
    "marta quintela",
    "iloveyou12",
  ])("is refused where everybody tries it first: %s", async (password) =>
    expect(await passwordWeakness(password, ["Marta Quintela", "marta@quillwater.example"])).not.toBeNull(),
  );
  it("may be of words that have nothing to do with each other", async () => {
    expect(await passwordWeakness("river lantern gravel", ["Marta Quintela"])).toBeNull();
  });

  it("is changed with the present one, and ends every other session", async () => {
    const [here, there] = [openSession(world.app, world.userId), openSession(world.app, world.userId)];
    const change = (current: string, password: string) =>
      changePassword(world.app, world.user, here, { current, password }, HOME);
    expect(await change("wrong", "river lantern gravel")).toMatchObject({
      errors: { current: expect.any(String) },
    });
    expect(await change(PASSWORD, "password123")).toMatchObject({ errors: { password: expect.any(String) } });
    expect((await change(PASSWORD, "river lantern gravel")).ok).toBe(true);
    expect([userOfSession(world.app, here)?.id, userOfSession(world.app, there)]).toEqual([
      world.userId,
      null,
    ]);
    expect(await tries(marta, HOME, 1)).toEqual(["no"]);
  });

  it("is not guessed where the present one is asked for: the tries count with those of signing in", async () => {
    const here = openSession(world.app, world.userId);
    const change = (current: string) =>
      changePassword(world.app, world.user, here, { current, password: "river lantern gravel" }, HOME, NOW);
    await tries({ ...marta, password: "wrong" }, HOME, 2);
    for (let nth = 0; nth < 3; nth++) expect((await change(`wrong ${nth}`)).ok).toBe(false);
    expect(await change(PASSWORD)).toMatchObject({ errors: { form: expect.stringContaining("minutes") } });
    expect(await tries(marta, HOME, 1)).toEqual(["paused"]);
  });

  it("is set with a one-time link: once, for three days, and the newest of several", async () => {
    const wall = Date.now();
    const older = makePasswordLink(world.app, world.userId, wall);
    const late = makePasswordLink(world.app, world.userId, wall - 4 * DAY);
    const use = (token: string) => usePasswordLink(world.app, token, "river lantern gravel");
    expect([(await use(older)).ok, (await use(late)).ok]).toEqual([false, false]);
    const link = makePasswordLink(world.app, world.userId);
    const both = await Promise.all([use(link), use(link)]);
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
    expect((await use(link)).ok).toBe(false);
    expect((await signIn(world.app, { ...marta, password: "river lantern gravel" }, HOME)).ok).toBe(true);
  });
});

describe("the team", () => {
  it("is looked after by managers: added by a link, reset, removed and signed out, and taken back", async () => {
    const rui = { name: "Rui Abrantes", email: "rui@quillwater.example", role: "rep" };
    expect(addMember(world.app, world.user, rui)).toMatchObject({ errors: { form: expect.any(String) } });
    const added = addMember(world.app, manager(), rui);
    if (!added.ok) throw new Error("refused");
    expect((await usePasswordLink(world.app, added.value, "river lantern gravel")).ok).toBe(true);
    const id = listTeam(world.app).find(({ email }) => email === rui.email)?.id ?? 0;
    const session = openSession(world.app, id);
    expect(removeMember(world.app, world.user, id).ok).toBe(false);
    // The last who can let others in stays; so Marta is made a manager first.
    world.app.db.exec(`UPDATE users SET role = 'manager' WHERE id = ${world.userId}`);
    expect(removeMember(world.app, manager(), id).ok).toBe(true);
    expect(userOfSession(world.app, session)).toBeNull();
    expect(await tries({ email: rui.email, password: "river lantern gravel" }, HOME, 1)).toEqual(["no"]);
    expect(resetMember(world.app, manager(), id).ok).toBe(false);
    expect(addMember(world.app, manager(), rui).ok).toBe(true);
  });

  it("never loses its last manager", () => {
    const first = { ...world.user, role: "manager" as const };
    world.app.db.exec("UPDATE users SET role = 'manager'");
    expect(setRole(world.app, first, world.userId, "rep")).toMatchObject({
      errors: { form: expect.stringContaining("only manager") },
    });
    expect(removeMember(world.app, first, world.userId).ok).toBe(false);
  });
});

describe("a rep", () => {
  it("is told whose a colleague's people are", () => {
    addPeople(world, ["ana", "bia"]);
    addMember(world.app, manager(), { name: "Rui", email: "rui@quillwater.example", role: "rep" });
    world.app.db.exec("UPDATE prospects SET owner_id = (SELECT max(id) FROM users) WHERE id = 1");
    expect(mayNot(world.app, world.userId, "prospect.change", [1, 2])?.errors.form).toContain(
      "1 of these 2 people",
    );
    expect(mayNot(world.app, world.userId, "prospect.change", 1)?.errors.form).toContain("Rui's");
    expect(mayNot(world.app, world.userId, "prospect.change", 2)).toBeNull();
    expect(mayNot(world.app, manager().id, "prospect.change", [1, 2])).toBeNull();
    // Roles are asked of the database: whoever was a manager a moment ago may be none.
    world.app.db.exec("UPDATE users SET role = 'rep' WHERE id = 99");
    expect(mayNot(world.app, manager().id, "prospect.change", 1)).not.toBeNull();
    world.app.db.exec("UPDATE users SET removed_at = 1 WHERE id = 99");
    expect(mayNot(world.app, manager().id, "prospect.change", 2)).not.toBeNull();
  });
});
