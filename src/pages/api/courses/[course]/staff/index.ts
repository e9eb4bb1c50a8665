import { v7 } from "uuid";
import * as api from "../../../../../api/staff.ts";
import { changeStaff, inviteStaff, withdrawStaff } from "../../../../../core/access/staff.ts";
import { fullName } from "../../../../../core/plan/lookup.ts";
import { isolated } from "../../../../../core/text/names.ts";
import { liveStep } from "../../../../../server/course/live-step.ts";
import { answering } from "../../../../../server/http/answer.ts";
import { problem } from "../../../../../server/http/problem.ts";

/** Who is on the staff, and what they are given: at once, since somebody may have to be out at once. */
export const POST = answering(api.changeStaff, async ({ body, locals }) => {
  const { access, account } = locals;
  const step = await liveStep(access.courseId, account.id, "staff", (plan, at) => {
    const id = v7();
    const name = (personId: string) => {
      const person = plan.people[personId];
      return person ? fullName(person) : "somebody";
    };
    const [next, says] =
      "invite" in body
        ? [
            inviteStaff(plan, id, body.invite, body.given, at),
            `Invited ${isolated(fullName(body.invite))} as ${body.given.role}`,
          ]
        : "change" in body
          ? [changeStaff(plan, id, body.change, body.given, at), `Changed what ${name(body.change)} is given`]
          : [withdrawStaff(plan, body.withdraw, at), `Withdrew ${name(body.withdraw)}`];
    return "refused" in next ? next : { plan: next, says };
  });
  return "refused" in step ? problem(409, "Not changed", step.sentence, { code: step.code }) : { says: step.says };
});
