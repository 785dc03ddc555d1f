// @vitest-environment jsdom
import { waitFor } from "@testing-library/react";
import { useState } from "react";
import { expect, it } from "vitest";
import { SearchField } from "./search-field";
import { openPage, screen } from "./test-page";

function Searching({ tell }: { tell: (text: string) => void }) {
  const [value, setValue] = useState("loans");
  return (
    <>
      <SearchField
        value={value}
        label="Search"
        placeholder="Name"
        onSearch={(text) => {
          tell(text);
          setValue(text);
        }}
      />
      <button type="button" onClick={() => setValue("")}>
        All
      </button>
    </>
  );
}

it("asks once for what is typed in one go, at once with Enter, and follows what is chosen elsewhere", async () => {
  const asked: string[] = [];
  const { user } = openPage(<Searching tell={(text) => asked.push(text)} />);
  const field = screen.getByRole("searchbox", { name: "Search" }) as HTMLInputElement;
  expect(field.value).toBe("loans");
  await user.type(field, " out");
  await waitFor(() => expect(asked).toEqual(["loans out"]));
  await user.type(field, "side{Enter}");
  expect(asked).toEqual(["loans out", "loans outside"]);
  await user.click(screen.getByRole("button", { name: "All" }));
  await waitFor(() => expect(field.value).toBe(""));
  expect(asked).toHaveLength(2);
});
