/** Who is signed in: the guard of every route behind the desk, and who asks at the doors before it. */
import { createContext, type MiddlewareFunction, redirect } from "react-router";
import { hasUsers } from "../../server/accounts/create-user";
import { type User, userOfSession } from "../../server/accounts/session";
import { type Caller, deviceToken } from "../../server/accounts/sign-in";
import { webApp } from "../../server/app";
import { deviceCookie, fileCookie, readToken, sessionCookie } from "../../server/web/session-cookie";

export const userContext = createContext<User>();

const isPublic = () => webApp().config.url.startsWith("https:");

/** The cookie's header for a new session; "" ends it. Secure where the public address is. */
export function sessionHeader(token: string): Promise<string> {
  return sessionCookie.serialize(token, { secure: isPublic(), ...(token === "" ? { maxAge: 0 } : {}) });
}

/** The cookie's header for whoever said a file's password, for its address alone. */
export const fileKeyHeader = (key: string, path: string): Promise<string> =>
  fileCookie.serialize(key, { secure: isPublic(), path });

/** The headers of a sign-in that worked: the session, and what this browser is known by next time. */
export async function signedIn(token: string, email: string): Promise<Headers> {
  const headers = new Headers();
  headers.append("Set-Cookie", await sessionHeader(token));
  headers.append(
    "Set-Cookie",
    await deviceCookie.serialize(deviceToken(webApp(), email), { secure: isPublic() }),
  );
  return headers;
}

/** Where a request comes from: the web server writes the address into its header (server/web/main.ts). */
export async function callerOf(request: Request): Promise<Caller> {
  const device: unknown = await deviceCookie.parse(request.headers.get("cookie"));
  return {
    address: request.headers.get("x-saudade-caller") ?? "",
    agent: request.headers.get("user-agent") ?? "",
    device: typeof device === "string" ? device : null,
  };
}

export const tokenOf = (request: Request): Promise<string | null> => readToken(request.headers.get("cookie"));

/** A path of our own, out of a link's "to"; "/" for everything else, so that nobody is sent elsewhere after signing in. */
export function ownPath(to: string | null): string {
  const here = "http://here.example";
  if (!to?.startsWith("/") || !URL.canParse(to, here)) return "/";
  const url = new URL(to, here);
  return url.origin === here ? url.pathname + url.search : "/";
}

/** Runs before every loader and action of the desk. */
export const requireUser: MiddlewareFunction<Response> = async ({ request, context }) => {
  const app = webApp();
  const token = await tokenOf(request);
  const user = token === null ? null : userOfSession(app, token);
  if (!user) {
    const { pathname, search } = new URL(request.url);
    if (!hasUsers(app)) throw redirect("/first-run");
    throw redirect(pathname === "/" ? "/sign-in" : `/sign-in?to=${encodeURIComponent(pathname + search)}`);
  }
  context.set(userContext, user);
};
