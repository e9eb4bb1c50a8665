import type { APIRoute } from "astro";
import { journalKinds } from "../../../../../core/review/journal.ts";
import { json } from "../../../../../server/http/problem.ts";
import { readJournal } from "../../../../../server/store/journal.ts";

/** Lines of the journal, the latest first: `q` are words, `kind` is one kind, `before` the last line that is known. */
export const GET: APIRoute = async ({ url, locals }) => {
  const { courseId, plan } = locals.access;
  const asked = (name: string) => url.searchParams.get(name);
  const kind = journalKinds.find((one) => one === asked("kind")) ?? null;
  return json(
    await readJournal(courseId, plan, { words: (asked("q") ?? "").slice(0, 200), kind, before: asked("before") }),
  );
};
