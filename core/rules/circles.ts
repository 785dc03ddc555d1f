/** Rules that set each other off without end are found before they run. */
import type { Act, Rule, When } from "./rule.ts";

/** Whether an act of somebody's rule brings about what another waits for. */
function setsOff({ kind, ...act }: Act, when: When): boolean {
  switch (kind) {
    case "stage":
      return when.kind === "stage" && "to" in act && when.to === act.to;
    case "set":
      return (
        when.kind === "field" &&
        "field" in act &&
        when.field === act.field &&
        (when.to === "" || when.to === act.value)
      );
    case "owner":
      return when.kind === "owner";
    case "list":
      return when.kind === "listed" && "isOn" in act && act.isOn && when.listId === act.listId;
    default:
      return false;
  }
}

interface Named {
  id: number;
  name: string;
  rule: Rule;
}

/**
 * The names of rules that follow from each other and come back to the first one, which is `from`; null without such a circle.
 * One that acts once for each person ends a circle by itself.
 */
export function circleFrom(from: Named, others: readonly Named[]): string[] | null {
  const all = new Map([...others, from].map((each) => [each.id, each]));
  const follow = (at: Named, path: readonly Named[]): string[] | null => {
    for (const next of all.values()) {
      if (next.rule.isOnce || !at.rule.steps.some(({ act }) => setsOff(act, next.rule.when))) continue;
      if (next.id === from.id) return [...path, next].map(({ name }) => name);
      if (path.some(({ id }) => id === next.id)) continue;
      const found = follow(next, [...path, next]);
      if (found) return found;
    }
    return null;
  };
  return follow(from, [from]);
}
