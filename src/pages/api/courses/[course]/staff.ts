import type { APIRoute } from "astro";
import { v7 } from "uuid";
import { z } from "zod";
import { changeStaff, inviteStaff, staffRoles, withdrawStaff } from "../../../../core/access/staff.ts";
import { PersonCard } from "../../../../core/intake/commands.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import { Id, StaffMay } from "../../../../core/plan/types.ts";
import { liveStep } from "../../../../server/course/live-step.ts";
import { readBody } from "../../../../server/http/body.ts";
import { json, problem } from "../../../../server/http/problem.ts";

const Given = z.object({
  role: z.enum(staffRoles),
  sectionIds: z.array(Id).max(500),
  groupIds: z.array(Id).max(500),
  may: z.array(StaffMay).max(3),
});
const Body = z.union([
  z.object({ invite: PersonCard, given: Given }),
  z.object({ change: Id, given: Given }),
  z.object({ withdraw: Id }),
]);

/** Who is on the staff, and what they are given: at once, since somebody may have to be out at once. */
export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { access, account } = locals;
  const step = await liveStep(access.courseId, account.id, "staff", (plan, at) => {
    const id = v7();
    const name = (personId: string) => {
      const person = plan.people[personId];
      return person ? fullName(person) : "somebody";
    };
    const [next, says] =
      "invite" in body
        ? [inviteStaff(plan, id, body.invite, body.given, at), `Invited ${fullName(body.invite)} as ${body.given.role}`]
        : "change" in body
          ? [changeStaff(plan, id, body.change, body.given, at), `Changed what ${name(body.change)} is given`]
          : [withdrawStaff(plan, body.withdraw, at), `Withdrew ${name(body.withdraw)}`];
    return "refused" in next ? next : { plan: next, says };
  });
  return "refused" in step
    ? problem(409, "Not changed", step.sentence, { code: step.code })
    : json({ says: step.says });
};
