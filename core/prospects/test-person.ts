/** For tests and measurements of duplicates: somebody at Kai, but for what is said. */
import type { PersonKey } from "./duplicates.ts";

export const personKey = (
  id: number,
  firstName: string,
  lastName: string,
  change: Partial<PersonKey> = {},
): PersonKey => ({
  id,
  firstName,
  lastName,
  email: `${id}@kai.example`,
  domain: "kai.example",
  profile: "",
  ...change,
});
