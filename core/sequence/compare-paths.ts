/** Two versions side by side. */
import isEqual from "fast-deep-equal";
import { everyNode, type Path, type PathNode } from "./path.ts";

export interface ComparedNode {
  before: PathNode | null;
  after: PathNode | null;
  /** The same in both, its place aside; of a fork its ways are compared node by node. */
  isSame: boolean;
}

/** Every node of both, in the order of the later version; what it lacks stands behind what it stood behind. */
export function comparePaths(before: Path, after: Path): ComparedNode[] {
  const old = everyNode(before);
  const byId = new Map(old.map((node) => [node.id, node]));
  const rows: ComparedNode[] = everyNode(after).map((node) => {
    const known = byId.get(node.id) ?? null;
    return { before: known, after: node, isSame: known !== null && isEqual(own(known), own(node)) };
  });
  old.forEach((node, index) => {
    if (rows.some((row) => row.before?.id === node.id)) return;
    const previous = old[index - 1]?.id;
    const at = rows.findIndex((row) => row.before?.id === previous);
    rows.splice(previous === undefined ? 0 : at + 1, 0, { before: node, after: null, isSame: false });
  });
  return rows;
}

const own = (node: PathNode): unknown => (node.kind === "fork" ? { ...node, yes: null, no: null } : node);
