import { randomUUID } from "node:crypto";
import { z } from "zod";
import type { Path } from "../../core/sequence/path.ts";
import { NO_WAIT } from "../../core/sequence/wait.ts";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { done, fieldErrors, type Outcome, refused } from "../errors.ts";

const form = z.object({ name: z.string().trim().min(1, "Give the sequence a name.").max(80) });

/** What a new sequence opens with: something to change instead of an empty page. */
const firstPath = (): Path => [
  {
    id: randomUUID().slice(0, 8),
    kind: "email",
    name: "Opening",
    note: "",
    wait: NO_WAIT,
    variants: [
      {
        id: "a",
        weight: 1,
        subject: "A question about {{ company }}",
        body: 'Hello {{ first_name | default: "there" }},\n\n',
      },
    ],
    format: "formatted",
    quotes: false,
    attachments: [],
  },
];

/** A draft with one step, all mailboxes of its owner, and their time zone; `begunFrom`: the starting point. Returns its id. */
export function createSequence(
  { db, clock }: App,
  userId: number,
  input: unknown,
  path: Path = firstPath(),
  begunFrom: string | null = null,
): Outcome<number> {
  const read = form.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  const now = clock.now();
  return db
    .transaction(() => {
      const id = Number(
        sql(
          db,
          `INSERT INTO sequences (name, user_id, time_zone, created_at, begun_from)
           SELECT @name, id, time_zone, @now, @begunFrom FROM users WHERE id = @userId`,
        ).run({ name: read.data.name, userId, now, begunFrom }).lastInsertRowid,
      );
      sql(
        db,
        "INSERT INTO sequence_versions (sequence_id, number, path, saved_by, saved_at) VALUES (@id, 1, @path, @userId, @now)",
      ).run({ id, path: JSON.stringify(path), userId, now });
      sql(
        db,
        "INSERT INTO sequence_mailboxes (sequence_id, mailbox_id) SELECT @id, id FROM mailboxes WHERE removed_at IS NULL AND user_id = @userId",
      ).run({ id, userId });
      return done(id);
    })
    .immediate();
}
