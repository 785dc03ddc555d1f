import { redirect } from "react-router";
import { signOut } from "../../../server/accounts/session";
import { webApp } from "../../../server/app";
import { sessionHeader, tokenOf } from "../session";
import type { Route } from "./+types/sign-out";

export async function action({ request }: Route.ActionArgs) {
  const token = await tokenOf(request);
  if (token) signOut(webApp(), token);
  return redirect("/sign-in", { headers: { "Set-Cookie": await sessionHeader("") } });
}

export function loader() {
  return redirect("/");
}
