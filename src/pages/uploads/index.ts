import type { APIRoute } from "astro";
import { answerUpload } from "../../server/store/uploads.ts";

/** Begins an upload. */
export const POST: APIRoute = ({ request, locals }) => answerUpload(locals.account.id, request);
