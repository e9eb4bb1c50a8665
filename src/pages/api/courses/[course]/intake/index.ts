import type { APIRoute } from "astro";
import { z } from "zod";
import { ColumnMatch } from "../../../../../core/intake/columns.ts";
import { Id, Role } from "../../../../../core/plan/types.ts";
import { readBody } from "../../../../../server/http/body.ts";
import { json, problem } from "../../../../../server/http/problem.ts";
import { settlePull } from "../../../../../server/intake/feeds.ts";
import { applyIntake, pastIntakes, rememberedMatches, rememberMatch } from "../../../../../server/intake/intakes.ts";

const Text = z.string().max(1000);
const Row = z.object({
  file: Text,
  line: z.number().int(),
  sourcedId: Text,
  username: Text,
  email: Text,
  givenName: Text,
  familyName: Text,
  sectionCode: Text,
  sectionTitle: Text,
  meets: Text,
  role: Role,
  attributes: z.record(z.string(), Text),
  problem: z.string().nullable(),
});
const Body = z.object({
  intakeId: Id,
  revision: z.number().int(),
  rows: z.array(Row).min(1).max(200_000),
  options: z.object({
    partial: z.boolean(),
    acceptedSections: z.array(Text),
    chosen: z.array(Text),
    samePeople: z.record(z.string(), Text.nullable()),
  }),
  sectionLayer: z.string().trim().min(1).max(200).nullable(),
  files: z.array(Text).max(200),
  /** Column matches that a person made. */
  /** The pulled roster that this is, where it is one. */
  pullId: Id.nullable(),
  remember: z.array(z.object({ header: z.array(Text), match: ColumnMatch })).max(200),
});

export const GET: APIRoute = async ({ locals }) => {
  const { courseId } = locals.access;
  return json({ intakes: await pastIntakes(courseId), matches: await rememberedMatches(courseId) });
};

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const { courseId } = locals.access;
  const answer = await applyIntake(courseId, locals.account.id, body);
  if (!answer.applied) {
    return problem(
      409,
      "Changed underneath",
      "The course changed since these rows were looked at, so nothing was applied. Look at the verdicts again, then apply.",
      {
        code: "intake.changed",
      },
    );
  }
  if (body.pullId) await settlePull(courseId, body.pullId, "applied");
  for (const { header, match } of body.remember) await rememberMatch(courseId, header, match);
  return json(answer);
};
