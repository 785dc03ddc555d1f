// @vitest-environment jsdom
import Button from "@mui/material/Button";
import { waitFor } from "@testing-library/react";
import { useState } from "react";
import { type ActionFunction, redirect } from "react-router";
import { describe, expect, it } from "vitest";
import { done, type Outcome, refused } from "../../server/errors";
import { Field } from "./field";
import { Refusal } from "./refusal";
import { openPage, screen, sentBy } from "./test-page";
import { ActionForm, useAction, useQuestion } from "./use-action";

/** An action whose answers are given by hand, in any order. */
function slow() {
  const asked: { sent: Record<string, string>; answer: (outcome: Outcome<unknown>) => void }[] = [];
  const action: ActionFunction = async (args) => {
    const sent = await sentBy(args);
    return new Promise((resolve) => asked.push({ sent, answer: resolve }));
  };
  return { asked, action };
}

function Presses({ to }: { to?: string }) {
  const [told, setTold] = useState<unknown[]>([]);
  const act = useAction<string>({ to }, (value) => setTold((before) => [...before, value]));
  return (
    <>
      {["one", "two", "three"].map((name) => (
        <Button key={name} onClick={() => act.press({ intent: name })}>
          {name}
        </Button>
      ))}
      <Button onClick={act.reset}>forget</Button>
      <Refusal errors={act.errors} />
      <output>{JSON.stringify({ isBusy: act.isBusy, value: act.value, told })}</output>
    </>
  );
}
const state = () => JSON.parse(screen.getByRole("status").textContent ?? "");

function Json() {
  const { press } = useAction({ as: "json" });
  return <Button onClick={() => press({ ids: [1, 2], all: null })}>send</Button>;
}

function Form() {
  const act = useAction<string>();
  return (
    <ActionForm of={act} sends={{ intent: "save", id: 7 }} aria-label="It">
      <Field name="name" label="Name" errors={act.errors} />
      <Button type="submit" disabled={act.isBusy}>
        Save
      </Button>
      <output>{act.value ?? ""}</output>
    </ActionForm>
  );
}

function Asks() {
  const { ask, value } = useQuestion<string>();
  return (
    <>
      {["first", "second"].map((name) => (
        <Button key={name} onClick={() => ask({ name })}>
          {name}
        </Button>
      ))}
      <output>{value ?? ""}</output>
    </>
  );
}

describe("presses", () => {
  it("that come before the answer go one after the other, and the last is told of", async () => {
    const { asked, action } = slow();
    const { user } = openPage(<Presses />, { "/": action });
    for (const name of ["one", "two", "three"]) await user.click(screen.getByRole("button", { name }));
    expect(state()).toMatchObject({ isBusy: true, value: null, told: [] });
    for (const [nth, name] of ["one", "two", "three"].entries()) {
      await waitFor(() => expect(asked).toHaveLength(nth + 1));
      expect(asked[nth]?.sent).toEqual({ intent: name });
      asked[nth]?.answer(done(`${name} done`));
    }
    await waitFor(() =>
      expect(state()).toEqual({
        isBusy: false,
        value: "three done",
        told: ["three done"],
      }),
    );
  });

  it("that are refused say why, and nothing is told until one is taken", async () => {
    const { asked, action } = slow();
    const { user } = openPage(<Presses />, { "/": action });
    await user.click(screen.getByRole("button", { name: "one" }));
    await waitFor(() => expect(asked).toHaveLength(1));
    asked[0]?.answer(refused({ form: "Not now.", name: "Too long." }));
    expect((await screen.findByRole("alert")).textContent).toBe("Not now. Too long.");
    expect(state()).toEqual({ isBusy: false, value: null, told: [] });
    await user.click(screen.getByRole("button", { name: "forget" }));
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
    await user.click(screen.getByRole("button", { name: "two" }));
    await waitFor(() => expect(asked).toHaveLength(2));
    asked[1]?.answer(done("taken"));
    await waitFor(() => expect(state()).toMatchObject({ value: "taken", told: ["taken"] }));
  });

  it("go to another's action, and the page stays", async () => {
    const { asked, action } = slow();
    const { user, address } = openPage(<Presses to="/elsewhere" />, { "/elsewhere": action }, "/here?page=2");
    await user.click(screen.getByRole("button", { name: "one" }));
    await waitFor(() => expect(asked).toHaveLength(1));
    asked[0]?.answer(done("fine"));
    await waitFor(() => expect(state()).toMatchObject({ value: "fine" }));
    expect(address()).toBe("/here?page=2");
  });

  it("lead where the action leads", async () => {
    const { user, address } = openPage(<Presses to="/leave" />, {
      "/leave": () => redirect("/gone?to=there"),
    });
    await user.click(screen.getByRole("button", { name: "one" }));
    await waitFor(() => expect(address()).toBe("/gone?to=there"));
  });
});

it("values go as they are where the action reads JSON", async () => {
  const sent: unknown[] = [];
  const { user } = openPage(<Json />, {
    "/": async ({ request }) => {
      sent.push(await request.json());
      return done(null);
    },
  });
  await user.click(screen.getByRole("button", { name: "send" }));
  await waitFor(() => expect(sent).toEqual([{ ids: [1, 2], all: null }]));
});

describe("a form", () => {
  it("sends what is typed and what nobody types, and says what is wrong where it is", async () => {
    const sent: unknown[] = [];
    const { user } = openPage(<Form />, {
      "/": async (args) => {
        const form = await sentBy(args);
        sent.push(form);
        return form.name === ""
          ? refused({ name: "Say how it is called.", form: "Not saved." })
          : done("Saved.");
      },
    });
    await user.click(screen.getByRole("button", { name: "Save" }));
    expect((await screen.findByRole("alert")).textContent).toBe("Not saved.");
    expect(screen.getByRole("textbox", { name: "Name" }).getAttribute("aria-invalid")).toBe("true");
    expect(screen.getByText("Say how it is called.")).toBeTruthy();
    await user.type(screen.getByRole("textbox", { name: "Name" }), "Loans");
    await user.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(screen.getByRole("status").textContent).toBe("Saved."));
    expect(screen.queryByRole("alert")).toBeNull();
    expect(sent).toEqual([
      { intent: "save", id: "7", name: "" },
      { intent: "save", id: "7", name: "Loans" },
    ]);
  });
});

it("of several questions only the latest is answered", async () => {
  const { asked, action } = slow();
  const { user } = openPage(<Asks />, { "/": action });
  await user.click(screen.getByRole("button", { name: "first" }));
  await waitFor(() => expect(asked).toHaveLength(1));
  await user.click(screen.getByRole("button", { name: "second" }));
  await waitFor(() => expect(asked).toHaveLength(2));
  asked[1]?.answer(done("about the second"));
  await waitFor(() => expect(screen.getByRole("status").textContent).toBe("about the second"));
  asked[0]?.answer(done("about the first"));
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(screen.getByRole("status").textContent).toBe("about the second");
});
