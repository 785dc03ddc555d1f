/** How high somebody stands, the highest first. */
export const SENIORITIES = ["owner", "executive", "head", "manager", "specialist", "junior"] as const;
export type Seniority = (typeof SENIORITIES)[number];
export const SENIORITY_NAMES: Record<Seniority, string> = {
  owner: "Owner or founder",
  executive: "Executive",
  head: "Head or director",
  manager: "Manager",
  specialist: "Specialist",
  junior: "Assistant or trainee",
};

export const isHigher = (a: Seniority, b: Seniority) => SENIORITIES.indexOf(a) < SENIORITIES.indexOf(b);

/** One step down, as a deputy stands below whom they stand in for. */
export const below = (rank: Seniority): Seniority => SENIORITIES[SENIORITIES.indexOf(rank) + 1] ?? rank;
