import { type ComponentType, type LazyExoticComponent, lazy } from "react";

/** A component of a file that comes to the browser when it is first shown: stands within a Suspense,
 * unless it is there from the beginning: then the page is drawn, and answers, together with it. */
export function lazily<Name extends string, Props>(
  load: () => Promise<Record<Name, ComponentType<Props>>>,
  name: Name,
): LazyExoticComponent<ComponentType<Props>> {
  return lazy(async () => ({ default: (await load())[name] }));
}
