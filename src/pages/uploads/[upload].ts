import type { APIRoute } from "astro";
import { notFound } from "../../server/http/guard.ts";
import { answerUpload } from "../../server/store/uploads.ts";

const answer: APIRoute = async ({ request, locals }) => {
  const response = await answerUpload(locals.account.id, request);
  // Somebody else's answers like one that never was.
  return response.status === 404 ? notFound(false) : response;
};

/** How much of an upload arrived. */
export const HEAD = answer;
/** More of an upload, from where it is. */
export const PATCH = answer;
export const DELETE = answer;
