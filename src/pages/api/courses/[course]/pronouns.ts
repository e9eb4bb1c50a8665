import * as api from "../../../../api/staff.ts";
import { pronounsIn } from "../../../../server/accounts/own.ts";
import { answering } from "../../../../server/http/answer.ts";

/** How people within one's scope like to be spoken of. */
export const GET = answering(api.readPronouns, async ({ locals: { access } }) => {
  const said = [...(await pronounsIn(access.courseId))].map(([personId, pronouns]) => ({ personId, pronouns }));
  return { people: said.filter(({ personId }) => access.plan.people[personId] !== undefined) };
});
