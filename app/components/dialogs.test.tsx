// @vitest-environment jsdom
import { cleanup, waitFor } from "@testing-library/react";
import { useState } from "react";
import { describe, expect, it } from "vitest";
import { done, refused } from "../../server/errors";
import { Confirm, FormDialog } from "./dialogs";
import { Field } from "./field";
import { openPage, screen, sentBy } from "./test-page";

function Asking() {
  const [told, setTold] = useState<string[]>([]);
  const tell = (what: string) => setTold((before) => [...before, what]);
  return (
    <>
      {!told.includes("closed") && (
        <FormDialog<number>
          title="A note"
          act="Keep it"
          intent="note"
          action="/notes"
          onClose={() => tell("closed")}
          onDone={(value) => tell(`kept ${value}`)}
        >
          {(errors) => <Field name="text" label="Note" errors={errors} />}
        </FormDialog>
      )}
      <output>{told.join(", ")}</output>
    </>
  );
}
const told = () => screen.getByRole("status", { hidden: true }).textContent;

describe("a dialog with a form", () => {
  it("stays with what was typed until it is taken, and then closes, told what came of it", async () => {
    const { user } = openPage(<Asking />, {
      "/notes": async (args) => {
        const { text, intent } = await sentBy(args);
        return text === ""
          ? refused({ text: "Write something.", form: "Not kept." })
          : done(intent === "note" ? 7 : 0);
      },
    });
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    expect((await screen.findByRole("alert")).textContent).toBe("Not kept.");
    expect(screen.getByText("Write something.")).toBeTruthy();
    expect(told()).toBe("");
    await user.type(screen.getByRole("textbox", { name: "Note" }), "Ring her");
    await user.click(screen.getByRole("button", { name: "Keep it" }));
    await waitFor(() => expect(told()).toBe("kept 7, closed"));
  });

  it("is left by Cancel and by Escape, and nothing is sent", async () => {
    const sent: unknown[] = [];
    const { user } = openPage(<Asking />, { "/notes": async (args) => sent.push(await sentBy(args)) });
    await user.click(screen.getByRole("button", { name: "Cancel" }));
    expect(told()).toBe("closed");
    expect(sent).toEqual([]);
  });
});

describe("a dialog that says what follows", () => {
  it("does it at one press, and leaves everything at the other", async () => {
    const pressed: string[] = [];
    const { user } = openPage(
      <Confirm
        title="Remove it?"
        keep="Leave it"
        act="Remove"
        onClose={() => pressed.push("left")}
        onAct={() => pressed.push("done")}
      >
        It is gone then.
      </Confirm>,
    );
    await user.click(screen.getByRole("button", { name: "Remove" }));
    await user.click(screen.getByRole("button", { name: "Leave it" }));
    expect(pressed).toEqual(["done", "left"]);
  });

  it("is done by Enter as it opens and in its fields, but harm asks for the press itself", async () => {
    const pressed: string[] = [];
    const asking = (act: string, isDanger: boolean) => (
      <Confirm
        title={act}
        keep="No"
        act={act}
        isDanger={isDanger}
        onClose={() => {}}
        onAct={() => pressed.push(act)}
      >
        <input aria-label={`Field of ${act}`} />
      </Confirm>
    );
    const { user } = openPage(asking("Save", false));
    await user.keyboard("{Enter}");
    expect(pressed).toEqual(["Save"]);
    await user.type(screen.getByRole("textbox", { name: "Field of Save" }), "x{Enter}");
    expect(pressed).toEqual(["Save", "Save"]);
    cleanup();
    const other = openPage(asking("Remove", true));
    await other.user.keyboard("{Enter}");
    expect(pressed).toEqual(["Save", "Save"]);
    await other.user.type(screen.getByRole("textbox", { name: "Field of Remove" }), "x{Enter}");
    expect(pressed).toEqual(["Save", "Save", "Remove"]);
  });

  it("cannot be pressed while what follows is not known", () => {
    openPage(
      <Confirm title="Remove it?" keep="Leave it" act="Remove" isWaiting onClose={() => {}} onAct={() => {}}>
        Counting …
      </Confirm>,
    );
    expect(screen.getByRole("button", { name: "Remove" }).hasAttribute("disabled")).toBe(true);
    expect(screen.getByRole("button", { name: "Leave it" }).hasAttribute("disabled")).toBe(false);
  });
});
