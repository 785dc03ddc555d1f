import { expect, it } from "vitest";
import { Turns } from "./turns.ts";

it("whoever asks for many at once waits behind themselves, not before the others", () => {
  const turns = new Turns(2);
  const made: string[] = [];
  const places: (() => void)[] = [];
  const ask = (caller: string, page: string) =>
    turns.ask(caller, (giveBack) => {
      made.push(page);
      places.push(giveBack);
    });
  for (let nth = 0; nth < 10; nth++) ask("greedy", `g${nth}`);
  ask("ana", "ana");
  ask("bia", "bia");
  expect(made).toEqual(["g0", "g1"]);
  for (let nth = 0; nth < 4; nth++) places.shift()?.();
  expect(made.slice(2)).toEqual(["g2", "ana", "bia", "g3"]);
  while (places.length > 0) places.shift()?.();
  expect(made).toHaveLength(12);
});

it("a place is given back once, and whoever has too many waiting is sent away", () => {
  const turns = new Turns(1);
  let giveBack = () => {};
  turns.ask("a", (back) => {
    giveBack = back;
  });
  const answers = Array.from({ length: 70 }, () => turns.ask("a", () => {}));
  expect(answers.filter(Boolean)).toHaveLength(60);
  let begun = 0;
  turns.ask("b", () => begun++);
  giveBack();
  giveBack();
  giveBack();
  // One place was free: the first of the circle has it, and nobody else got in by giving it back again.
  expect(begun).toBe(0);
});
