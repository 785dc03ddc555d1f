/** For tests of what parts of a page do: they live in a browser's document, at an address, beside actions that answer as the server does. */
import { ThemeProvider } from "@mui/material/styles";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { type ActionFunction, createMemoryRouter, RouterProvider } from "react-router";
import { afterEach } from "vitest";
import { theme } from "../theme/theme";

afterEach(cleanup);

export interface Opened {
  user: ReturnType<typeof userEvent.setup>;
  /** The path and query at which the page stands. */
  address: () => string;
}

/** `actions`: by path, besides the page's own, which is the one of "/". */
export function openPage(
  element: React.ReactElement,
  actions: Record<string, ActionFunction> = {},
  at = "/",
): Opened {
  const { "/": own, ...others } = actions;
  const page = <ThemeProvider theme={theme}>{element}</ThemeProvider>;
  const router = createMemoryRouter(
    [
      ...Object.entries(others).map(([path, action]) => ({ path, action, element: <p>Elsewhere</p> })),
      { path: "*", element: page, ...(own && { action: own }) },
    ],
    { initialEntries: [at] },
  );
  render(<RouterProvider router={router} />);
  return {
    user: userEvent.setup(),
    address: () => router.state.location.pathname + router.state.location.search,
  };
}

/** What a form or a press sent, as the server's readForm reads it. */
export const sentBy = async ({ request }: { request: Request }): Promise<Record<string, string>> =>
  Object.fromEntries([...(await request.formData())].map(([name, value]) => [name, String(value)]));

export { screen };
