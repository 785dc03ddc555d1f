/** Of what waits for somebody: what is theirs, or what they chose to look at instead: a colleague's, or everybody's. */
import { z } from "zod";
import type { App } from "../app.ts";
import { sql } from "../db/open.ts";
import { fieldErrors, type Outcome, refused } from "../errors.ts";
import type { User } from "./session.ts";
import { saveSettings } from "./settings.ts";

/** As values of a query: `@everybody OR … = @userId`. */
export type Whose = {
  everybody: 0 | 1;
  userId: number;
};

export type Look = Pick<User, "id" | "looksAt">;

export const whose = ({ id, looksAt = "mine" }: Look): Whose => ({
  everybody: looksAt === "all" ? 1 : 0,
  userId: typeof looksAt === "number" ? looksAt : id,
});

export interface Looking {
  at: "mine" | "all" | number;
  /** Whose it is, if it is a colleague's. */
  name: string | null;
  colleagues: { id: number; name: string }[];
}

/** Whose things the screens show, for the line that says so and the choice of others. */
export function looking({ db }: App, { id, looksAt = "mine" }: Look): Looking {
  const colleagues = sql(
    db,
    "SELECT id, name FROM users WHERE id != @id AND removed_at IS NULL ORDER BY name",
  ).all<Looking["colleagues"][number]>({ id });
  return {
    at: looksAt,
    name: colleagues.find((each) => each.id === looksAt)?.name ?? null,
    colleagues,
  };
}

const lookForm = z.object({ at: z.union([z.enum(["mine", "all"]), z.coerce.number().int().positive()]) });

/** Remembered until another choice. To look is everybody's; what may be done with what is seen is asked where it is done. */
export function lookAt(app: App, userId: number, input: unknown): Outcome<null> {
  const read = lookForm.safeParse(input);
  if (!read.success) return refused(fieldErrors(read.error));
  return saveSettings(app, userId, { looksAt: read.data.at === userId ? "mine" : read.data.at });
}
