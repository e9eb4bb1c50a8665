import { v4, v7 } from "uuid";
import { Command, replay } from "../src/core/commands.ts";
import { isRefusal } from "../src/core/plan/command.ts";
import { difference } from "../src/core/plan/difference.ts";
import type { Plan } from "../src/core/plan/types.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { review } from "../src/core/review/effects.ts";
import { addCommands, readDraft } from "../src/server/drafts/drafts.ts";
import { publish } from "../src/server/drafts/publishing.ts";
import { course } from "../src/server/store/courses.ts";
import { closeDatabase, insertMany, transaction } from "../src/server/store/database.ts";
import { fastest, keep, median, type Row, sized } from "./measure.ts";
import { evaluate, fresh, largeCourse, now } from "./reach.ts";
import { readyAccount, storeCourse } from "./store.ts";

const command = (fields: object) => Command.parse({ id: v7(), ...fields });
/** Everybody is placed anew, in a layer that follows the sections. */
export const follow = () =>
  command({ kind: "layer.followSections", layerId: v4(), name: `Follows ${v4().slice(0, 8)}` });

function reviewRow(): Promise<Row> {
  const { plan, progress } = largeCourse(sized(5000, 200));
  const open = Object.values(plan.items)
    .filter(({ kind }) => kind !== "folder")
    .slice(0, 3);
  const commands = [
    follow(),
    command({ kind: "item.change", itemId: open[0]?.id, fields: { published: false } }),
    command({ kind: "dates.set", itemIds: [open[1]?.id], dates: { due: "2026-12-11T17:00" } }),
  ];
  const after = replay(plan, commands, { now });
  if (after.refused.length > 0) throw new Error(after.refused[0]?.refusal.sentence);
  // Plans that were never met, so that nothing kept with one helps either side; copied before the clock starts.
  const times = 7;
  const pairs = Array.from({ length: times }, () => {
    const own = fresh(plan);
    return [own, replay(own, commands, { now }).plan, fresh(plan)] as const;
  });
  const [forReview, forFloor] = [pairs.map(([a, b]) => [a, b] as const), pairs.map(([, , c]) => c)];
  return fastest(
    {
      ours: () => {
        const [a, b] = forReview.pop() ?? [plan, after.plan];
        keep(review(a, b, progress, now).touched);
      },
      floor: () => keep(evaluate(reachAt(forFloor.pop() ?? plan, progress, now))),
    },
    times,
  ).then((best) => ({
    name: "Review of a draft that touches 5,000 students",
    ours: best.ours,
    against: [{ name: "one full evaluation of reach", milliseconds: best.floor, kind: "floor" as const }],
    note: "400 items; a layer, an item hidden, a date; target under 3",
  }));
}

async function publishRow(): Promise<Row> {
  const { plan } = largeCourse(sized(5000, 200));
  const own: Plan = { ...plan, course: { ...plan.course, id: v4() } };
  const accountId = await readyAccount();
  await storeCourse(own);
  const courseId = own.course.id;
  let written = 0;
  // Drafted beforehand: what is measured is the publication, and the write beside it, each in turn.
  const ready: { revision: number; version: number }[] = [];
  const draft = async () => {
    const answer = await addCommands(courseId, accountId, [follow()]);
    if (isRefusal(answer)) throw new Error(answer.sentence);
    const revision = (await course(courseId))?.revision ?? 0;
    ready.push({ revision, version: (await readDraft(courseId, accountId)).version });
  };
  const times = sized(9, 1);
  const [ours, bare]: [number[], number[]] = [[], []];
  for (let round = 0; round < times; round++) {
    await draft();
    const before = (await course(courseId))?.plan as Plan;
    const seen = ready.at(-1) as (typeof ready)[number];
    let started = performance.now();
    const answer = await publish(courseId, accountId, { publicationId: v7(), leave: [], ...seen });
    ours.push(performance.now() - started);
    if (!answer.published) throw new Error(answer.reason);
    const changes = difference(before, (await course(courseId))?.plan as Plan).filter(
      ({ table }) => table === "placements",
    );
    written = changes.length;
    started = performance.now();
    await transaction((connection) =>
      insertMany(
        "placements",
        ["course_id", "id", "group_id", "person_id", "since", "until", "held"],
        changes.map(({ after }) => [courseId, v4(), String(after?.groupId), String(after?.personId), 0, 1, false]),
        connection,
      ),
    );
    bare.push(performance.now() - started);
  }
  return {
    name: "Publishing a draft that touches 5,000 students",
    ours: median(ours),
    against: [{ name: "a bare batched write of the same rows", milliseconds: median(bare), kind: "floor" }],
    note: `${written.toLocaleString("en-GB")} placements in new groups; median; target at most 1.5`,
  };
}

export async function publishingRows(): Promise<Row[]> {
  const found = [await reviewRow(), await publishRow()];
  await closeDatabase();
  return found;
}
