/** What every page of a list begins with. */
import { data } from "react-router";
import type { App } from "../../server/app";
import { type ListState, listState } from "../../server/prospects/lists/list-state";
import { listById } from "../../server/prospects/lists/lists";

/** The list of an address and how it stands. Throws a 404 if there is none. */
export function requireList(
  app: App,
  by: number,
  id: string,
): { list: { id: number; name: string }; state: ListState } {
  const list = listById(app, by, Number(id));
  if (!list) throw data("This list does not exist, or no longer.", { status: 404 });
  return { list: { id: list.id, name: list.name }, state: listState(app, list.id) };
}
