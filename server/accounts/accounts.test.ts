import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { MINUTE } from "../../core/calendar.ts";
import { createWorld, PASSWORD, rows, type World } from "../tests/world.ts";
import { createFirstUser } from "./create-user.ts";
import { userOfSession } from "./session.ts";
import { SESSION_LASTS, signIn, signInToDemo, signOut } from "./sign-in.ts";

let world: World;
beforeEach(async () => {
  world = await createWorld({ standin: false });
});
afterEach(() => world.close());
const NOW = 1_800_000_000_000;
const marta = { email: "Marta@quillwater.example", password: PASSWORD };

describe("signing in", () => {
  it("opens a session that ends with its time or the sign-out, and keeps no token", async () => {
    const session = await signIn(world.app, marta, NOW);
    if (!session.ok) throw new Error("refused");
    expect(userOfSession(world.app, session.value, NOW)?.name).toBe("Marta Quintela");
    expect(userOfSession(world.app, session.value, NOW + SESSION_LASTS)).toBeNull();
    expect(JSON.stringify(rows(world, "SELECT * FROM sessions"))).not.toContain(session.value);
    signOut(world.app, session.value);
    expect(userOfSession(world.app, session.value, NOW)).toBeNull();
  });

  it("pauses for one address after five failures, even with the right password, and not for others", async () => {
    for (let tries = 0; tries < 5; tries++)
      expect((await signIn(world.app, { ...marta, password: "no" }, NOW)).ok).toBe(false);
    expect(await signIn(world.app, marta, NOW)).toMatchObject({
      errors: { form: expect.stringContaining("Too many") },
    });
    expect(await signIn(world.app, { email: "rui@x.example", password: "x" }, NOW)).toMatchObject({
      errors: { form: expect.stringContaining("do not belong") },
    });
    expect((await signIn(world.app, marta, NOW + 16 * MINUTE)).ok).toBe(true);
  });

  it("without a password is for the demo alone, and a first user is made once", async () => {
    expect(signInToDemo(world.app, "marta@quillwater.example").ok).toBe(false);
    const second = await createFirstUser(world.app, {
      name: "X",
      email: "x@y.example",
      password: "0123456789",
      zone: "UTC",
    });
    expect(second.ok).toBe(false);
  });
});
