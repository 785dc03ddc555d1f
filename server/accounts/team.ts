/** The users of this installation, as a manager looks after them. */
import { z } from "zod";
import { ROLES, type Role } from "../../core/team/may.ts";
import type { App } from "../app.ts";
import { sql, transact } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";
import { newSlug } from "./create-user.ts";
import { mayNot } from "./may-not.ts";
import { makePasswordLink } from "./password.ts";
import { endOtherSessions, type User } from "./session.ts";

export interface TeamMember {
  id: number;
  name: string;
  email: string;
  role: Role;
  mailboxes: number;
  sequences: number;
  sessions: number;
  /** A one-time link is out that nobody used yet. */
  invited: boolean;
}

export function listTeam({ db }: App, wall = Date.now()): TeamMember[] {
  return sql(
    db,
    `SELECT u.id, u.name, u.email, u.role,
       (SELECT count(*) FROM mailboxes m WHERE m.user_id = u.id AND m.removed_at IS NULL) AS mailboxes,
       (SELECT count(*) FROM sequences s WHERE s.user_id = u.id AND s.kind = 'shared' AND s.deleted_at IS NULL) AS sequences,
       (SELECT count(*) FROM sessions s WHERE s.user_id = u.id) AS sessions,
       EXISTS (SELECT 1 FROM password_links l WHERE l.user_id = u.id AND l.expires_at > @wall) AS invited
     FROM users u WHERE u.removed_at IS NULL ORDER BY u.name, u.id`,
  )
    .all<Omit<TeamMember, "invited"> & { invited: number }>({ wall })
    .map((row) => ({ ...row, invited: row.invited === 1 }));
}

const addition = z.object({
  name: z.string().trim().min(1, "Type their name.").max(100),
  email: z.email("Type their email address.").transform((email) => email.toLowerCase()),
  role: z.enum(ROLES, "Choose a role."),
});

/** Adds somebody, or takes somebody back who was removed; returns the token of the link with which they set a password. */
export function addMember(app: App, manager: User, input: unknown): Outcome<string> {
  const no = mayNot(app, manager.id, "users.change");
  if (no) return no;
  const read = addition.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const { db } = app;
  const row = { ...read.data, slug: newSlug(read.data.name), zone: manager.zone, now: app.clock.now() };
  const added = sql(
    db,
    `INSERT INTO users (email, name, password_hash, time_zone, booking_slug, role, created_at)
     VALUES (@email, @name, '', @zone, @slug, @role, @now)
     ON CONFLICT (email) DO UPDATE SET name = @name, role = @role, removed_at = NULL, password_hash = ''
       WHERE removed_at IS NOT NULL
     RETURNING id`,
  ).get<{ id: number }>(row);
  if (!added) return refused({ email: "Somebody has this address already." });
  return done(makePasswordLink(app, added.id));
}

/** A link with which somebody who forgot the password sets another; what is open now goes on until it is used. */
export function resetMember(app: App, manager: User, id: number): Outcome<string> {
  const no = mayNot(app, manager.id, "users.change");
  if (no) return no;
  if (!listTeam(app).some((member) => member.id === id)) return refused({ form: "They are no longer here." });
  return done(makePasswordLink(app, id));
}

export function setRole(app: App, manager: User, id: number, input: unknown): Outcome<null> {
  const no = mayNot(app, manager.id, "users.change");
  if (no) return no;
  const role = z.enum(ROLES).safeParse(input);
  if (!role.success) return refused({ form: "Choose a role." });
  return changeUnlessLast(app, id, role.data === "manager", () => {
    sql(app.db, "UPDATE users SET role = @role WHERE id = @id").run({
      id,
      role: role.data,
    });
  });
}

/** Removes somebody: they are signed out at once. Their mailboxes and sequences stay and go on. */
export function removeMember(app: App, manager: User, id: number): Outcome<null> {
  const no = mayNot(app, manager.id, "users.change");
  if (no) return no;
  if (id === manager.id) return refused({ form: "Nobody removes themselves. Ask another manager." });
  return changeUnlessLast(app, id, false, () => {
    sql(app.db, "UPDATE users SET removed_at = @now WHERE id = @id").run({
      id,
      now: app.clock.now(),
    });
    sql(app.db, "DELETE FROM password_links WHERE user_id = @id").run({ id });
    endOtherSessions(app, id, null);
  });
}

/** Somebody always has to be there who can let others in. */
function changeUnlessLast(app: App, id: number, staysManager: boolean, change: () => void): Outcome<null> {
  return transact(app, (): Outcome<null> => {
    const team = listTeam(app);
    if (!team.some((member) => member.id === id)) return refused({ form: "They are no longer here." });
    if (!staysManager && !team.some((member) => member.role === "manager" && member.id !== id))
      return refused({ form: "They are the only manager. Make somebody else one first." });
    change();
    return done(null);
  });
}
