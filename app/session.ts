/** Who is signed in: the cookie, and the guard of every route behind the desk. */
import { createContext, createCookie, type MiddlewareFunction, redirect } from "react-router";
import { hasUsers } from "../server/accounts/create-user";
import { type User, userOfSession } from "../server/accounts/session";
import { SESSION_LASTS } from "../server/accounts/sign-in";
import { webApp } from "../server/app";

export const sessionCookie = createCookie("saudade_session", {
  httpOnly: true,
  sameSite: "lax",
  path: "/",
  maxAge: SESSION_LASTS / 1000,
});

/** The cookie's header for a new session. Secure where the public address is. */
export function sessionHeader(token: string): Promise<string> {
  return sessionCookie.serialize(token, { secure: webApp().config.url.startsWith("https:") });
}

export const userContext = createContext<User>();

export async function readToken(request: Request): Promise<string | null> {
  const token: unknown = await sessionCookie.parse(request.headers.get("cookie"));
  return typeof token === "string" ? token : null;
}

/** Runs before every loader and action of the desk. */
export const requireUser: MiddlewareFunction<Response> = async ({ request, context }) => {
  const app = webApp();
  const token = await readToken(request);
  const user = token === null ? null : userOfSession(app, token);
  if (!user) {
    const { pathname, search } = new URL(request.url);
    if (!hasUsers(app)) throw redirect("/first-run");
    throw redirect(pathname === "/" ? "/sign-in" : `/sign-in?to=${encodeURIComponent(pathname + search)}`);
  }
  context.set(userContext, user);
};
