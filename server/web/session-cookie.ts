/** The cookies: who is signed in, and that a browser has been here before. */
import { createCookie } from "react-router";
import { SESSION_LASTS } from "../accounts/session.ts";

const YEAR = 365 * 86_400;

export const sessionCookie = createCookie("saudade_session", {
  httpOnly: true,
  sameSite: "lax",
  path: "/",
  maxAge: SESSION_LASTS / 1000,
});

/** See `deviceToken`: it opens nothing, but keeps strangers' tries from locking its owner out. */
export const deviceCookie = createCookie("saudade_device", {
  httpOnly: true,
  sameSite: "lax",
  path: "/sign-in",
  maxAge: YEAR,
});

export async function readToken(cookies: string | null): Promise<string | null> {
  const token: unknown = await sessionCookie.parse(cookies);
  return typeof token === "string" ? token : null;
}
