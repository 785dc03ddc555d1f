/** Labels that somebody's path asks for where they stand: they lead on, and end nothing. */
import type { Label } from "../replies/labels.ts";
import { branchStart, type Path, type PathNode, spotsOf } from "./path.ts";

/**
 * Those of the forks at which somebody is, one behind the other. Where a reply ends nothing, those of everything ahead as
 * well: what lies between goes on meanwhile, as the sequence was told to.
 */
export function awaitedLabels(
  path: Path,
  placeId: string | null,
  { goesOnAfterReply }: { goesOnAfterReply: boolean },
): ReadonlySet<Label> {
  const spots = spotsOf(path);
  const labels = new Set<Label>();
  const seen = new Set<string>();
  const look = (node: PathNode | null | undefined): void => {
    if (!node || node.kind === "end" || seen.has(node.id)) return;
    seen.add(node.id);
    const asked = node.kind === "fork" ? node.ask : goesOnAfterReply ? node.onlyIf : undefined;
    if (asked?.about === "label") labels.add(asked.is);
    if (node.kind === "fork") {
      look(branchStart(node, "yes", path));
      look(branchStart(node, "no", path));
    } else if (goesOnAfterReply) look(spots.get(node.id)?.next);
  };
  look(placeId === null ? null : spots.get(placeId)?.node);
  return labels;
}
