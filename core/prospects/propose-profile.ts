/** A target profile changed by what was found of a group: those who answer more are looked for, those who answer less left out. */

import { readEmployees } from "./employees.ts";
import type { TargetProfile } from "./profile.ts";
import { SENIORITIES } from "./seniority.ts";

export const PROFILED = ["title", "seniority", "industry", "size", "country"] as const;
export type Profiled = (typeof PROFILED)[number];
export const isProfiled = (attribute: string): attribute is Profiled =>
  (PROFILED as readonly string[]).includes(attribute);

export interface Proven {
  attribute: Profiled;
  /** As groups name it: a job, a seniority, an industry, "51 to 200", an ISO code. */
  value: string;
  /** They come to it more often than the rest, or less often. */
  isMore: boolean;
}

/** Null where the profile has it so already, or cannot say it: a size in the middle cannot be left out. */
export function proposeProfile(
  profile: TargetProfile,
  { attribute, value, isMore }: Proven,
): TargetProfile | null {
  const seniority = SENIORITIES.find((each) => each === value);
  const changed = {
    title: () =>
      isMore ? { titles: [value] } : { titlesWithout: [...new Set([...profile.titlesWithout, value])] },
    seniority: () => {
      if (!seniority) return null;
      const wanted = profile.seniorities.length > 0 ? profile.seniorities : SENIORITIES;
      return { seniorities: isMore ? [seniority] : wanted.filter((each) => each !== seniority) };
    },
    industry: () => only("industries"),
    country: () => only("countries"),
    size: () => {
      const range = readEmployees(value);
      if (!range) return null;
      if (isMore) return { employeesFrom: range.from, employeesTo: range.to };
      if (range.to === null) return { employeesTo: range.from - 1 };
      return range.from <= Math.max(1, profile.employeesFrom ?? 0) ? { employeesFrom: range.to + 1 } : null;
    },
  }[attribute]();
  /** Leaving one out is said only where the profile names what it wants. */
  function only(field: "industries" | "countries") {
    if (isMore) return { [field]: [value] };
    const rest = profile[field].filter((each) => each !== value);
    return rest.length === profile[field].length || rest.length === 0 ? null : { [field]: rest };
  }
  if (!changed) return null;
  const proposed = { ...profile, ...changed };
  return JSON.stringify(proposed) === JSON.stringify(profile) ? null : proposed;
}
