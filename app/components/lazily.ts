import { type ComponentType, type LazyExoticComponent, lazy } from "react";

/** A component of a file that comes to the browser when it is first shown: stands within a Suspense,
 * unless it is there from the beginning: then the page is drawn, and answers, together with it. */
// biome-ignore lint/suspicious/noExplicitAny: as React's own lazy takes it; what a component is given is still checked where it stands
export function lazily<Name extends keyof Module, Module extends { [name in Name]: ComponentType<any> }>(
  load: () => Promise<Module>,
  name: Name,
): LazyExoticComponent<Module[Name]> {
  return lazy(async () => ({ default: (await load())[name] }));
}
