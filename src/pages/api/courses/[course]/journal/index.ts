import * as api from "../../../../../api/journal.ts";
import { cut } from "../../../../../core/text/shorten.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { readJournal } from "../../../../../server/store/journal.ts";

export const GET = answering(api.readJournal, async ({ query, locals }) => {
  const { courseId, plan } = locals.access;
  return readJournal(courseId, plan, { words: cut(query.q, 200), kind: query.kind, before: query.before });
});
