import { redirect } from "react-router";
import { signOut } from "../../server/accounts/sign-in";
import { webApp } from "../../server/app";
import { readToken, sessionHeader } from "../session";
import type { Route } from "./+types/sign-out";

export async function action({ request }: Route.ActionArgs) {
  const token = await readToken(request);
  if (token) signOut(webApp(), token);
  return redirect("/sign-in", { headers: { "Set-Cookie": await sessionHeader("") } });
}

export function loader() {
  return redirect("/");
}
