import { createMemoryRouter, redirect } from "react-router";
import { expect, it } from "vitest";
import { keepFinished } from "./finished-fetchers";

const moment = () => new Promise((resolve) => setTimeout(resolve, 5));

/** A press is answered while another press's page waits for its code; both wait for that, and the code comes. */
async function pressMeanwhile(isKept: boolean): Promise<{ path: string; fetcher: string }> {
  let comes = () => {};
  const code = new Promise<void>((resolve) => {
    comes = resolve;
  });
  const late = async () => {
    await code;
    return { loader: () => "the page" };
  };
  const router = createMemoryRouter(
    [
      {
        id: "desk",
        path: "/",
        children: [
          { path: "/write", action: () => redirect("/written") },
          { path: "/written", lazy: late },
          { path: "/clock", action: () => "moved" },
        ],
      },
    ],
    { initialEntries: ["/write"] },
  );
  router.initialize();
  await moment();
  if (isKept) keepFinished(router);
  const post = () => ({ formMethod: "post" as const, formData: new FormData() });
  for (const key of ["send", "move"]) router.getFetcher(key);
  void router.fetch("send", "desk", "/write", post());
  await moment();
  void router.fetch("move", "desk", "/clock", post());
  await moment();
  comes();
  await moment();
  await moment();
  const { location, fetchers } = router.state;
  const seen = { path: location.pathname, fetcher: fetchers.get("move")?.state ?? "idle" };
  router.dispose();
  return seen;
}

it("ends a press that was answered while the next page's code was on its way", async () => {
  expect(await pressMeanwhile(true)).toEqual({ path: "/written", fetcher: "idle" });
});

it("is needed: the router alone leaves it under way", async () => {
  expect(await pressMeanwhile(false)).toEqual({ path: "/written", fetcher: "loading" });
});
