// @vitest-environment jsdom
import Button from "@mui/material/Button";
import { describe, expect, it } from "vitest";
import { z } from "zod";
import { ChoiceInput, NumberInput, SeveralInput, TextInput, TickInput } from "./schema-fields";
import { useSchemaForm } from "./schema-form";
import { openPage, screen, sentBy } from "./test-page";
import { ActionForm, useAction } from "./use-action";

const schema = z.object({
  name: z.string().trim().min(1, "Give it a name."),
  hours: z.coerce.number().min(2),
  list: z.number().nullable(),
  days: z.array(z.number()).min(1, "Choose a day."),
  letter: z.object({ text: z.string(), isKept: z.boolean(), after: z.number() }),
});

function Form() {
  const act = useAction();
  const form = useSchemaForm(
    schema,
    { name: "", hours: "3", list: 7, days: [1], letter: { text: "", isKept: false, after: 4 } },
    act.errors,
    (sent) => act.press({ form: JSON.stringify(sent) }),
  );
  return (
    <ActionForm of={act} onSubmit={form.onSubmit} noValidate>
      <TextInput in={form} name="name" label="Name" helperText="As others see it." />
      <TextInput in={form} name="hours" label="Hours" />
      <ChoiceInput
        in={form}
        name="list"
        label="List"
        options={[
          ["", "None"],
          [7, "Spring"],
        ]}
      />
      <SeveralInput
        in={form}
        name="days"
        label="Days"
        options={[
          [1, "Mon"],
          [2, "Tue"],
        ]}
      />
      <TextInput in={form} name="letter.text" label="Text" />
      <NumberInput in={form} name="letter.after" label="After" most={9} />
      <TickInput in={form} name="letter.isKept" label="Kept" />
      <Button type="submit">Save</Button>
    </ActionForm>
  );
}

const field = (name: string) => screen.getByRole<HTMLInputElement>("textbox", { name });

/** The form on a page, and what the server was sent; `errors`: what it finds wrong. */
function open(errors: Record<string, string> | null = null) {
  const sent: unknown[] = [];
  const { user } = openPage(<Form />, {
    "/": async (args) => {
      sent.push(JSON.parse((await sentBy(args)).form ?? "null"));
      return errors ? { ok: false, errors } : { ok: true, value: null };
    },
  });
  const save = () => user.click(screen.getByRole("button", { name: "Save" }));
  return { user, sent, save };
}

describe("a form that is a schema's", () => {
  it("says what is wrong before anything is sent, and goes there", async () => {
    const { user, sent, save } = open();
    await user.clear(field("Hours"));
    await user.click(screen.getByRole("button", { name: "Mon" }));
    await save();
    expect(await screen.findByText("Give it a name.")).toBeTruthy();
    expect(screen.getByText("At least 2.")).toBeTruthy();
    expect(screen.getByText("Choose a day.")).toBeTruthy();
    expect(document.activeElement).toBe(field("Name"));
    expect(sent).toEqual([]);
  });

  it("takes back what it said while it is mended", async () => {
    const { user, save } = open();
    await save();
    await screen.findByText("Give it a name.");
    await user.type(field("Name"), "Ana");
    expect(await screen.findByText("As others see it.")).toBeTruthy();
  });

  it("sends what the schema makes of it, whatever kind of field it came from", async () => {
    const { user, sent, save } = open();
    await user.type(field("Name"), "  Ana ");
    await user.click(screen.getByRole("combobox", { name: "List" }));
    await user.click(screen.getByRole("option", { name: "None" }));
    await user.click(screen.getByRole("button", { name: "Tue" }));
    await user.type(field("Text"), "Hello");
    await user.click(screen.getByRole("checkbox", { name: "Kept" }));
    await user.type(screen.getByRole("spinbutton", { name: "After" }), "8");
    await save();
    await expect.poll(() => sent).toHaveLength(1);
    expect(sent).toEqual([
      { name: "Ana", hours: 3, list: null, days: [1, 2], letter: { text: "Hello", isKept: true, after: 9 } },
    ]);
  });

  it("shows what only the server knows at its field, until it is changed", async () => {
    const { user, save, sent } = open({ "letter.text": "No such field.", form: "The day is over." });
    await user.type(field("Name"), "Ana");
    await save();
    expect(await screen.findByText("No such field.")).toBeTruthy();
    expect(screen.getByRole("alert").textContent).toBe("The day is over.");
    expect(field("Text").getAttribute("aria-invalid")).toBe("true");
    await user.type(field("Text"), "x");
    await expect.poll(() => screen.queryByText("No such field.")).toBeNull();
    await save();
    await expect.poll(() => sent).toHaveLength(2);
  });
});
