import type { APIRoute } from "astro";
import { flowCookie } from "../../../server/accounts/accounts.ts";
import { beginAt, IdentityTrouble } from "../../../server/accounts/identity-providers.ts";
import { originOf, pathOfOurs } from "../../../server/http/address.ts";
import { notFound } from "../../../server/http/guard.ts";
import { problemPage } from "../../../server/http/problem.ts";

/** Sends a browser to an identity provider. */
export const GET: APIRoute = async ({ params, url, request, cookies }) => {
  try {
    const target = pathOfOurs(url.searchParams.get("next") ?? "/");
    const begun = await beginAt(params.provider ?? "", { origin: originOf(request), target, at: Date.now() });
    if (!begun) return notFound(false);
    const { name, options } = flowCookie();
    cookies.set(name, begun.flow, options);
    return new Response(null, { status: 303, headers: { location: begun.address } });
  } catch (error) {
    if (error instanceof IdentityTrouble) return problemPage(502, "Not signed in", error.message);
    throw error;
  }
};
