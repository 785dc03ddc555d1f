/** For tests of what parts of a page show: they are rendered as the server renders them, at an address of the app. */
import { ThemeProvider } from "@mui/material/styles";
import { renderToStaticMarkup } from "react-dom/server";
import { createMemoryRouter, RouterProvider } from "react-router";
import { theme } from "../theme/theme";

export function markup(element: React.ReactElement, at = "/"): string {
  const router = createMemoryRouter(
    [{ path: "*", element: <ThemeProvider theme={theme}>{element}</ThemeProvider> }],
    { initialEntries: [at] },
  );
  return renderToStaticMarkup(<RouterProvider router={router} />).replace(/<style[^>]*>.*?<\/style>/gs, "");
}

/** The text that a reader gets. */
export const shown = (element: React.ReactElement, at = "/") =>
  markup(element, at)
    .replace(/<[^>]+>/g, " ")
    .replaceAll("&#x27;", "'")
    .replace(/\s+/g, " ")
    .trim();
