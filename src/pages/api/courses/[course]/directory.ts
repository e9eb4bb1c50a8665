import * as api from "../../../../api/intake.ts";
import { cut } from "../../../../core/text/shorten.ts";
import { answering } from "../../../../server/http/answer.ts";
import { problem } from "../../../../server/http/problem.ts";
import { FeedTrouble, searchDirectory } from "../../../../server/intake/registrar.ts";

export const GET = answering(api.searchDirectory, async ({ query }) => {
  const text = cut(query.find.trim(), 100);
  if (text.length < 2) return { people: [] };
  try {
    return { people: await searchDirectory(text) };
  } catch (error) {
    if (!(error instanceof FeedTrouble)) throw error;
    return problem(502, "No directory", error.message);
  }
});
