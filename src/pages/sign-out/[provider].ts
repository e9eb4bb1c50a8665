import type { APIRoute } from "astro";
import { endAt } from "../../server/accounts/identity-providers.ts";
import { originOf } from "../../server/http/address.ts";
import { pageLeadingTo } from "../../server/http/problem.ts";

/**
 * Signed out here, somebody is led to where they are signed out of the provider too. By a page, since what a form leads to stays
 * on this site by the policy of our pages.
 */
export const GET: APIRoute = async ({ params, request }) => {
  const address = await endAt(params.provider ?? "", originOf(request));
  return pageLeadingTo(
    address ?? "/sign-in",
    "You are signed out here",
    "Go on, to be signed out where you signed in too",
  );
};
