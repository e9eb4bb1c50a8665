import type { APIRoute } from "astro";
import { json, problem } from "../../../../server/http/problem.ts";
import { FeedTrouble, searchDirectory } from "../../../../server/intake/registrar.ts";

/** People of the institution by a part of their name, login or id. */
export const GET: APIRoute = async ({ url }) => {
  const text = (url.searchParams.get("find") ?? "").trim().slice(0, 100);
  if (text.length < 2) return json({ people: [] });
  try {
    return json({ people: await searchDirectory(text) });
  } catch (error) {
    if (!(error instanceof FeedTrouble)) throw error;
    return problem(502, "No directory", error.message);
  }
};
