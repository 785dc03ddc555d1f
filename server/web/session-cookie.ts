/** The cookies: who is signed in, that a browser has been here before, and which file's password somebody outside has said. */
import { createCookie } from "react-router";
import { SESSION_LASTS } from "../accounts/session.ts";
import { KEY_LASTS } from "../pages/file-looks.ts";

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

/** Set for one file's address, and sent to no other. */
export const fileCookie = createCookie("saudade_file", {
  httpOnly: true,
  sameSite: "lax",
  maxAge: KEY_LASTS / 1000,
});

export async function readFileKey(cookies: string | null): Promise<string | null> {
  const key: unknown = await fileCookie.parse(cookies);
  return typeof key === "string" ? key : null;
}

export async function readToken(cookies: string | null): Promise<string | null> {
  const token: unknown = await sessionCookie.parse(cookies);
  return typeof token === "string" ? token : null;
}
