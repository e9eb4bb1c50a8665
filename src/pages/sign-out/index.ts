import type { APIRoute } from "astro";
import { sessionCookie, signOut } from "../../server/accounts/accounts.ts";
import { noteEvent } from "../../server/accounts/security-events.ts";
import { tokenOf } from "../../server/http/guard.ts";

export const POST: APIRoute = async ({ cookies, locals }) => {
  const provider = await signOut(tokenOf(cookies) ?? "");
  await noteEvent({ kind: "signed out", accountId: locals.account.id });
  const { name, options } = sessionCookie();
  cookies.delete(name, { path: options.path, secure: options.secure });
  // What the browser kept of pages and answers goes with the session.
  return new Response(null, {
    status: 303,
    headers: { location: provider ? `/sign-out/${provider}` : "/sign-in", "clear-site-data": '"cache"' },
  });
};
