import "@fontsource-variable/hanken-grotesk";
import sans from "@fontsource-variable/hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2?url";
import "@fontsource-variable/newsreader";
import serif from "@fontsource-variable/newsreader/files/newsreader-latin-wght-normal.woff2?url";
import "@fontsource-variable/newsreader/wght-italic.css";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { useContext } from "react";
import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useMatches,
} from "react-router";
import type { Route } from "./+types/root";
import { Notice } from "./components/notice";
import { useFinishedFetchers } from "./desk/finished-fetchers";
import { Nonce } from "./desk/nonce";
import { theme, themeVariables } from "./theme/theme";

export const meta: Route.MetaFunction = () => [{ title: "Saudade" }];
export const links: Route.LinksFunction = () => [
  { rel: "icon", href: "/mark.svg", type: "image/svg+xml" },
  // Known from the first line on: found in the styles they come late, and every line of text moves.
  ...[sans, serif].map((href) => ({
    rel: "preload",
    href,
    as: "font",
    type: "font/woff2",
    crossOrigin: "anonymous" as const,
  })),
];

export function Layout({ children }: { children: React.ReactNode }) {
  const nonce = useContext(Nonce);
  return (
    <html lang={useLanguage()}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links />
        <style>{themeVariables}</style>
      </head>
      <body>
        <ThemeProvider theme={theme} disableStyleSheetGeneration>
          <CssBaseline />
          {children}
        </ThemeProvider>
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

/** The program's own language, or that of a page for somebody outside. */
function useLanguage(): string {
  const matches = useMatches();
  for (const { loaderData } of matches.toReversed()) {
    const tongue = (loaderData as { tongue?: { language?: string } } | null | undefined)?.tongue;
    if (tongue?.language) return tongue.language;
  }
  return "en";
}

export default function Root() {
  useFinishedFetchers();
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  const known = isRouteErrorResponse(error);
  return (
    <Notice
      heading={known && error.status === 404 ? "This page does not exist." : "Something went wrong here."}
      text={
        known && typeof error.data === "string" && error.data !== ""
          ? error.data
          : "Nothing was lost. Go back and try again; if it stays, the server's log says more."
      }
      action={{ to: "/", label: "Go to Today" }}
    />
  );
}
