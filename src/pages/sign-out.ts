import type { APIRoute } from "astro";
import { sessionCookie, signOut } from "../server/accounts/accounts.ts";
import { tokenOf } from "../server/http/guard.ts";

export const POST: APIRoute = async ({ cookies, redirect }) => {
  await signOut(tokenOf(cookies) ?? "");
  cookies.delete(sessionCookie, { path: "/" });
  return redirect("/sign-in", 303);
};
