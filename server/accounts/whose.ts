/** Of what waits for somebody: what is theirs, or everything for whoever looks after all of it. */
import type { User } from "./session.ts";

/** As values of a query: `@everybody OR … = @userId`. */
export type Whose = {
  everybody: 0 | 1;
  userId: number;
};

/** A manager looks after everybody's. */
export const whose = (user: Pick<User, "id" | "role">): Whose => ({
  everybody: user.role === "manager" ? 1 : 0,
  userId: user.id,
});
