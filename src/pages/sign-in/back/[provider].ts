import type { APIRoute } from "astro";
import { flowCookie, sessionCookie } from "../../../server/accounts/accounts.ts";
import { comeBack, IdentityTrouble } from "../../../server/accounts/identity-providers.ts";
import { originOf, pathOfOurs } from "../../../server/http/address.ts";
import { problemPage } from "../../../server/http/problem.ts";

const refused = (says: string) => problemPage(401, "Not signed in", says);

/** Whoever comes back from an identity provider is signed in, or told why not. */
export const GET: APIRoute = async ({ params, url, request, cookies, clientAddress }) => {
  const kept = flowCookie();
  const flow = cookies.get(kept.name)?.value ?? "";
  cookies.delete(kept.name, { path: kept.options.path, secure: kept.options.secure });
  const agent = request.headers.get("user-agent") ?? "";
  const asked = { url, origin: originOf(request), at: Date.now(), agent, address: clientAddress };
  try {
    const answer = await comeBack(params.provider ?? "", flow, asked);
    if ("wrong" in answer) return refused(answer.wrong);
    if ("again" in answer) {
      cookies.set(kept.name, answer.again.flow, kept.options);
      return new Response(null, { status: 303, headers: { location: answer.again.address } });
    }
    const { name, options } = sessionCookie();
    cookies.set(name, answer.token, options);
    return new Response(null, { status: 303, headers: { location: pathOfOurs(answer.target) } });
  } catch (error) {
    if (error instanceof IdentityTrouble) return refused(error.message);
    throw error;
  }
};
