/** What a key of the API may be good for: areas, each to be read or also changed. A key never does more than its user. */

/** By area, what lies in it, in the words of the page on which a key is made. */
export const AREAS = {
  prospects: "people, companies, lists, fields and stages",
  sequences: "sequences, and people's ways through them",
  touches: "touches that wait for somebody",
  replies: "replies and their labels",
  meetings: "calls that are booked, and free times",
  sending: "mailboxes and the block list",
  results: "results",
  jobs: "imports, searches and other work",
  webhooks: "webhooks",
  rules: "rules",
} as const;
export type Area = keyof typeof AREAS;
export const AREA_NAMES = Object.keys(AREAS) as Area[];

export const POWERS = ["read", "write"] as const;
export type Power = (typeof POWERS)[number];

export type Scope = `${Area}:${Power}`;
export const SCOPES: readonly Scope[] = AREA_NAMES.flatMap((area) =>
  POWERS.map((power): Scope => `${area}:${power}`),
);

/** Whether some scopes reach this far: whoever may change an area may also read it. */
export const reaches = (scopes: readonly Scope[], area: Area, power: Power): boolean =>
  scopes.includes(`${area}:${power}`) || (power === "read" && scopes.includes(`${area}:write`));
