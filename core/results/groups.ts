/** Who answers: groups of people that differ from the rest, said only where it is more than the chance of having looked at many. */
import { chanceOfSuch, FALSE_SHARE, falseShares } from "./many.ts";
import { type Share, shareOf } from "./share.ts";

export const ATTRIBUTES = [
  "title",
  "seniority",
  "industry",
  "size",
  "country",
  "list",
  "source",
  "profile",
  "verdict",
  "provider",
] as const;
export type Attribute = (typeof ATTRIBUTES)[number];

/** Somebody who was reached: what is known of them (several values where they are in several groups), and whether it came to it. */
export interface Someone {
  values: Partial<Record<Attribute, readonly string[]>>;
  isHit: boolean;
}

export interface Group {
  attribute: Attribute;
  value: string;
  own: Share;
  /** Of everybody else of whom the attribute is known. */
  rest: Share;
  /** The share of false ones among those that are called different, were this the last of them. */
  falseShare: number;
  differs: boolean;
}

/** Smaller groups say nothing, and looking at them costs the others. */
const LEAST = 12;

/** Those that differ first, then by how many they are. */
export function groupsOf(people: readonly Someone[]): Group[] {
  const found: Omit<Group, "falseShare" | "differs">[] = [];
  for (const attribute of ATTRIBUTES) {
    const known = people.filter(({ values }) => (values[attribute]?.length ?? 0) > 0);
    const hits = known.filter(({ isHit }) => isHit).length;
    const counts = new Map<string, { part: number; whole: number }>();
    for (const { values, isHit } of known)
      for (const value of values[attribute] ?? []) {
        const count = counts.get(value) ?? { part: 0, whole: 0 };
        counts.set(value, count);
        count.whole++;
        if (isHit) count.part++;
      }
    for (const [value, { part, whole }] of counts)
      if (whole >= LEAST && known.length - whole >= LEAST)
        found.push({
          attribute,
          value,
          own: shareOf(part, whole),
          rest: shareOf(hits - part, known.length - whole),
        });
  }
  const shares = falseShares(found.map(({ own, rest }) => chanceOfSuch(own, rest)));
  return found
    .map((group, nth): Group => {
      const falseShare = shares[nth] ?? 1;
      return { ...group, falseShare, differs: falseShare <= FALSE_SHARE };
    })
    .sort(
      (a, b) =>
        Number(b.differs) - Number(a.differs) ||
        (a.differs ? a.falseShare - b.falseShare : 0) ||
        b.own.whole - a.own.whole,
    );
}
