// @vitest-environment jsdom
import Button from "@mui/material/Button";
import { fireEvent, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { STANDINGS, type Standing } from "../../../core/sequence/standing";
import { done } from "../../../server/errors";
import { openPage, screen } from "../../components/test-page";
import type { StartData } from "./start-data";
import { useStart } from "./use-start";

const counts = (some: Partial<Record<Standing, number>>) =>
  Object.fromEntries(STANDINGS.map((each) => [each, some[each] ?? 0]));
const person = (id: number, standing: Standing = "ready") => ({ id, standing });
const data = (change: object = {}) =>
  ({
    check: { counts: counts({ ready: 10, no_address: 3, held: 2, blocked: 4 }) },
    people: [person(1, "no_address"), person(2), person(3, "blocked")],
    stepId: "one",
    personId: 2,
    standing: null,
    ...change,
  }) as unknown as StartData;

function Shown({ given }: { given: StartData }) {
  const at = useStart(given);
  const { listed, waiting, starting, goingNow, leaveOut } = at;
  return (
    <>
      <Button onClick={() => at.press("start", { leaveOut: [...leaveOut.keys()] })}>Start</Button>
      {[1, 2, 3].map((id) => (
        <Button key={id} onClick={() => at.toggle(id)}>
          {`leave out ${id}`}
        </Button>
      ))}
      <output>{JSON.stringify({ listed, waiting, starting, goingNow, left: [...leaveOut.keys()] })}</output>
    </>
  );
}
const state = () => JSON.parse(screen.getByRole("status").textContent ?? "");

describe("before a start", () => {
  it("counts who goes now, who starts and waits, and who is listed", () => {
    openPage(<Shown given={data()} />);
    expect(state()).toEqual({ listed: 19, waiting: 5, starting: 15, goingNow: 10, left: [] });
  });

  it("lists only a standing that is looked at", () => {
    openPage(<Shown given={data({ standing: "held" })} />);
    expect(state()).toMatchObject({ listed: 2, starting: 15 });
  });

  it("takes whoever is left out off what they would have been, and puts them in again", async () => {
    const { user } = openPage(<Shown given={data()} />);
    await user.click(screen.getByRole("button", { name: "leave out 2" }));
    expect(state()).toMatchObject({ starting: 14, goingNow: 9, left: [2] });
    await user.click(screen.getByRole("button", { name: "leave out 1" }));
    expect(state()).toMatchObject({ starting: 13, goingNow: 9, left: [2, 1] });
    // Somebody who does not start anyway changes nothing.
    await user.click(screen.getByRole("button", { name: "leave out 3" }));
    expect(state()).toMatchObject({ starting: 13, goingNow: 9, left: [2, 1, 3] });
    await user.click(screen.getByRole("button", { name: "leave out 2" }));
    expect(state()).toMatchObject({ starting: 14, goingNow: 10, left: [1, 3] });
  });

  it("J and K turn to the people beside, and X leaves out whoever is looked at", async () => {
    const { address } = openPage(<Shown given={data()} />, {}, "/?step=one&page=1");
    fireEvent.keyDown(document.body, { key: "x" });
    expect(state().left).toEqual([2]);
    fireEvent.keyDown(document.body, { key: "j" });
    await waitFor(() => expect(address()).toBe("/?step=one&page=1&person=3"));
    fireEvent.keyDown(document.body, { key: "k" });
    await waitFor(() => expect(address()).toBe("/?step=one&page=1&person=2"));
  });

  it("turns nowhere beyond the people, and leaves out nobody where nobody is looked at", async () => {
    const { address } = openPage(<Shown given={data({ people: [person(2)], personId: null })} />);
    for (const key of ["x", "k"]) fireEvent.keyDown(document.body, { key });
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(address()).toBe("/");
    expect(state().left).toEqual([]);
  });

  it("sends whom it is about and whom it leaves out", async () => {
    const sent: unknown[] = [];
    const { user } = openPage(<Shown given={data()} />, {
      "/": async ({ request }) => {
        sent.push(await request.json());
        return done({ started: 14 });
      },
    });
    await user.click(screen.getByRole("button", { name: "leave out 1" }));
    await user.click(screen.getByRole("button", { name: "Start" }));
    await waitFor(() =>
      expect(sent).toEqual([{ intent: "start", stepId: "one", prospectId: 2, leaveOut: [1] }]),
    );
  });
});
