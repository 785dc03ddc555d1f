// @vitest-environment jsdom
import { fireEvent } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it } from "vitest";
import { Choice } from "./choice";
import { NumberField, OptionalNumberField } from "./number-field";
import { Pager } from "./pager";
import { openPage, screen } from "./test-page";
import { Tick } from "./tick";

function Fields() {
  const [number, setNumber] = useState(3);
  const [maybe, setMaybe] = useState<number | null>(null);
  const [choice, setChoice] = useState<"" | 4>("");
  const [isOn, setOn] = useState(false);
  return (
    <>
      <NumberField label="Number" value={number} least={1} most={9} onChange={setNumber} />
      <OptionalNumberField label="Maybe" placeholder="no limit" value={maybe} most={50} onChange={setMaybe} />
      <Choice
        label="Choice"
        value={choice}
        onChange={setChoice}
        options={[
          ["", "None"],
          [4, "Four"],
        ]}
      />
      <Tick label="On" hint="What it means." checked={isOn} onChange={setOn} />
      <output>{JSON.stringify([number, maybe, choice, isOn])}</output>
    </>
  );
}
const values = () => JSON.parse(screen.getByRole("status").textContent ?? "");
const type = (label: string, value: string) =>
  fireEvent.change(screen.getByRole("spinbutton", { name: label }), { target: { value } });

describe("a number", () => {
  it.each([
    ["7", 7],
    ["70", 9],
    ["-4", 1],
    ["2.6", 3],
    ["", 1],
  ])("typed as %s is %i", (typed, number) => {
    openPage(<Fields />);
    type("Number", typed);
    expect(values()[0]).toBe(number);
  });

  it.each([
    ["7", 7],
    ["70", 50],
    ["0", 1],
    ["", null],
  ])("that may be left out is, typed as %s, %s", (typed, number) => {
    openPage(<Fields />);
    type("Maybe", "5");
    type("Maybe", typed);
    expect(values()[1]).toBe(number);
  });
});

describe("a choice", () => {
  it("shows its words, and tells its value as what it is", async () => {
    const { user } = openPage(<Fields />);
    await user.click(screen.getByRole("combobox", { name: "Choice" }));
    await user.click(screen.getByRole("option", { name: "Four" }));
    expect(values()[2]).toBe(4);
    expect(screen.getByRole("combobox", { name: "Choice" }).textContent).toContain("Four");
  });

  it("says what is wrong with it instead of its hint", () => {
    openPage(
      <Choice
        name="role"
        label="Role"
        defaultValue="rep"
        helperText="May be changed."
        errors={{ role: "Choose one." }}
        options={[["rep", "Rep"]]}
      />,
    );
    expect(screen.getByText("Choose one.")).toBeTruthy();
    expect(screen.queryByText("May be changed.")).toBeNull();
  });

  it("that is made or not is told with every press", async () => {
    const { user } = openPage(<Fields />);
    await user.click(screen.getByRole("checkbox", { name: "On" }));
    expect(values()[3]).toBe(true);
    await user.click(screen.getByText("On"));
    expect(values()[3]).toBe(false);
  });
});

describe("the way through a long list", () => {
  const pager = (page: number, total: number) =>
    openPage(<Pager page={page} pageSize={50} total={total} />, {}, `/?q=x&page=${page}`);

  it.each([
    [0, 50],
    [0, 0],
  ])("is not there where all is shown (page %i of %i)", (page, total) => {
    pager(page, total);
    expect(screen.queryByRole("navigation")).toBeNull();
  });

  it("says which part is shown, and turns in the address alone", async () => {
    const { user, address } = pager(1, 1_234);
    expect(screen.getByRole("navigation").textContent).toBe("Back51–100 of 1,234Next");
    await user.click(screen.getByRole("button", { name: "Next" }));
    expect(address()).toBe("/?q=x&page=2");
    await user.click(screen.getByRole("button", { name: "Back" }));
    expect(address()).toBe("/?q=x");
  });

  it("ends where the list ends, also one that has grown shorter", () => {
    pager(1, 70);
    expect(screen.getByRole("navigation").textContent).toContain("51–70 of 70");
    expect(screen.getByRole("button", { name: "Next" }).hasAttribute("disabled")).toBe(true);
  });

  it("leads back from behind the end", async () => {
    const { user, address } = pager(3, 70);
    expect(screen.getByRole("navigation").textContent).toContain("None here of 70");
    await user.click(screen.getByRole("button", { name: "Back" }));
    expect(address()).toBe("/?q=x&page=2");
  });
});
