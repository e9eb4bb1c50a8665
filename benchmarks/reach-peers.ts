/**
 * The same questions asked of general engines, each as its documentation advises, and of one set-based SQL query: equal
 * answers, checked pair by pair. Policy engines decide one rule set for one student and item at a time; how folders
 * combine is computed beside them at no cost of theirs.
 */
import { AbilityBuilder, createMongoAbility, subject } from "@casl/ability";
import cedar from "@cedar-policy/cedar-wasm/nodejs";
import type { Connection } from "mysql2/promise";
import mysql from "mysql2/promise";
import { instantOf } from "../src/core/clock/local-time.ts";
import { foldersAbove } from "../src/core/plan/lookup.ts";
import type { Progress } from "../src/core/plan/progress.ts";
import type { Item, Plan } from "../src/core/plan/types.ts";
import { isWork, type Reach, reachAt } from "../src/core/reach/reach.ts";
import { hasBit } from "../src/core/sets/bits.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";
import { evaluate, largeCourse, now, unseen } from "./reach.ts";

/** An item as every engine can read it: whom it is for, what it needs, when it opens. */
interface Resource {
  id: string;
  published: boolean;
  everyone: boolean;
  to: string[];
  minus: string[];
  needs: string;
  opens: number;
}
interface Student {
  id: string;
  targets: string[];
  /** Items on which the condition that asks for them holds. */
  passed: string[];
}
const resourceOf = (plan: Plan, item: Item): Resource => ({
  id: item.id,
  published: item.published,
  everyone: item.audience.to === "everyone",
  to: item.audience.to === "everyone" ? [] : item.audience.to.map(({ id }) => id),
  minus: item.audience.minus.map(({ id }) => id),
  needs: item.condition && "itemId" in item.condition ? item.condition.itemId : "",
  opens:
    typeof item.dates.opens === "string" && item.dates.opens !== "none"
      ? instantOf(item.dates.opens, plan.course.timeZone)
      : 0,
});

function studentsOf(reach: Reach, progress: Progress, count: number): Student[] {
  const { plan } = reach;
  const marks = new Map(progress.marks.map((mark) => [`${mark.personId}/${mark.itemId}`, mark.points ?? 0]));
  const asked = [...new Set(Object.values(plan.items).flatMap((item) => resourceOf(plan, item).needs || []))];
  return reach.students.slice(0, count).map((id, index) => ({
    id,
    targets: [...reach.memberships(index).groupIds, ...reach.memberships(index).sectionIds, id],
    // Every condition of the large course asks for 60 %.
    passed: asked.filter(
      (itemId) => (marks.get(`${id}/${itemId}`) ?? -1) * 100 >= 60 * (plan.items[itemId]?.points ?? 0),
    ),
  }));
}

/** Folders and indexes put together from decisions about single items, as the rules say. */
function seesFrom(plan: Plan): (decide: (itemId: string) => boolean) => string[] {
  const items = Object.values(plan.items).map((item) => {
    const above = foldersAbove(plan, item);
    const listed = item.kind === "discussion" || item.kind === "event" || isWork(item) || item.dates.due !== undefined;
    return {
      id: item.id,
      isShut: above.some(({ published }) => !published),
      must: above.filter(({ seals }) => seals || !listed).map(({ id }) => id),
    };
  });
  return (decide) =>
    items.filter(({ id, isShut, must }) => !isShut && decide(id) && must.every(decide)).map(({ id }) => id);
}

const policies = `permit(principal, action == Action::"open", resource) when {
  resource.published && (resource.everyone || resource.to.containsAny(principal.targets)) &&
  !resource.minus.containsAny(principal.targets) &&
  (resource.needs == "" || principal.passed.contains(resource.needs)) && context.now >= resource.opens
};`;

function cedarDecides(resources: Resource[]): (student: Student) => (itemId: string) => boolean {
  const parsed = cedar.preparsePolicySet("bench", { staticPolicies: policies });
  if (parsed.type === "failure") throw new Error(JSON.stringify(parsed.errors));
  const uid = (type: string, id: string) => ({ type, id });
  const entities = new Map(resources.map(({ id, ...attrs }) => [id, { uid: uid("Item", id), attrs, parents: [] }]));
  return (student) => {
    const principal = uid("Student", student.id);
    const entity = { uid: principal, attrs: { targets: student.targets, passed: student.passed }, parents: [] };
    return (itemId) => {
      const answer = cedar.statefulIsAuthorized({
        principal,
        action: uid("Action", "open"),
        resource: uid("Item", itemId),
        context: { now },
        preparsedPolicySetId: "bench",
        preparsedSchemaName: null,
        validateRequest: false,
        entities: [entity, entities.get(itemId) as never],
      } as never);
      if (answer.type === "failure") throw new Error(JSON.stringify(answer.errors));
      return answer.response.decision === "allow";
    };
  };
}

function caslDecides(resources: Resource[]): (student: Student) => (itemId: string) => boolean {
  const known = new Map(resources.map((one) => [one.id, subject("Item", { ...one })]));
  return ({ targets, passed }) => {
    const { can, cannot, build } = new AbilityBuilder(createMongoAbility);
    const common = { published: true, needs: { $in: [...passed, ""] }, opens: { $lte: now } };
    can("open", "Item", { ...common, everyone: true });
    can("open", "Item", { ...common, to: { $in: targets } });
    cannot("open", "Item", { minus: { $in: targets } });
    const ability = build();
    return (itemId) => ability.can("open", known.get(itemId) as never);
  };
}

const tables = ["students", "items", "targets", "members", "passed", "must"];

async function fillTables(
  connection: Connection,
  plan: Plan,
  students: Student[],
  resources: Resource[],
): Promise<void> {
  for (const table of tables) await connection.query(`DROP TABLE IF EXISTS peer_${table}`);
  await connection.query("CREATE OR REPLACE TABLE peer_students (n INT PRIMARY KEY)");
  await connection.query(
    "CREATE OR REPLACE TABLE peer_items (n INT PRIMARY KEY, published INT, everyone INT, needs INT NULL, opens BIGINT, shut INT)",
  );
  await connection.query(
    "CREATE OR REPLACE TABLE peer_targets (item INT, target INT, minus INT, PRIMARY KEY (item, minus, target))",
  );
  await connection.query(
    "CREATE OR REPLACE TABLE peer_members (student INT, target INT, PRIMARY KEY (student, target), KEY (target, student))",
  );
  await connection.query("CREATE OR REPLACE TABLE peer_passed (student INT, item INT, PRIMARY KEY (student, item))");
  await connection.query("CREATE OR REPLACE TABLE peer_must (item INT, folder INT, PRIMARY KEY (item, folder))");
  const number = new Map<string, number>();
  const of = (id: string) => number.get(id) ?? number.set(id, number.size + 1).size;
  const insert = async (table: string, rows: (number | null)[][]) => {
    for (let from = 0; from < rows.length; from += 5000)
      await connection.query(`INSERT INTO peer_${table} VALUES ?`, [rows.slice(from, from + 5000)]);
  };
  await insert(
    "students",
    students.map(({ id }) => [of(id)]),
  );
  await insert(
    "members",
    students.flatMap(({ id, targets }) => [...new Set(targets)].map((one) => [of(id), of(one)])),
  );
  await insert(
    "passed",
    students.flatMap(({ id, passed }) => passed.map((one) => [of(id), of(one)])),
  );
  const items = Object.values(plan.items);
  const shut = (item: Item) => Number(foldersAbove(plan, item).some(({ published }) => !published));
  await insert(
    "items",
    resources.map((one, at) => [
      of(one.id),
      Number(one.published),
      Number(one.everyone),
      one.needs ? of(one.needs) : null,
      one.opens,
      shut(items[at] as Item),
    ]),
  );
  await insert(
    "targets",
    resources
      .flatMap((one) => [
        ...one.to.map((id) => [of(one.id), of(id), 0]),
        ...one.minus.map((id) => [of(one.id), of(id), 1]),
      ])
      .filter((row, at, all) => all.findIndex((other) => other.join() === row.join()) === at),
  );
  const listed = (item: Item) =>
    item.kind === "discussion" || item.kind === "event" || isWork(item) || item.dates.due !== undefined;
  await insert(
    "must",
    items.flatMap((item) =>
      foldersAbove(plan, item)
        .filter(({ seals }) => seals || !listed(item))
        .map(({ id }) => [of(item.id), of(id)]),
    ),
  );
  for (const table of tables) await connection.query(`ANALYZE TABLE peer_${table}`);
}

const query = `
WITH released AS (
  SELECT s.n AS student, i.n AS item FROM peer_students s JOIN peer_items i
  WHERE i.published = 1 AND i.opens <= ${now}
    AND (i.everyone = 1 OR EXISTS (SELECT 1 FROM peer_targets t JOIN peer_members m ON m.target = t.target AND m.student = s.n WHERE t.item = i.n AND t.minus = 0))
    AND NOT EXISTS (SELECT 1 FROM peer_targets t JOIN peer_members m ON m.target = t.target AND m.student = s.n WHERE t.item = i.n AND t.minus = 1)
    AND (i.needs IS NULL OR EXISTS (SELECT 1 FROM peer_passed p WHERE p.student = s.n AND p.item = i.needs))
), counted AS (
  SELECT r.student, m.item, COUNT(*) AS open FROM peer_must m JOIN released r ON r.item = m.folder GROUP BY r.student, m.item
), needed AS (SELECT item, COUNT(*) AS folders FROM peer_must GROUP BY item)
SELECT COUNT(*) AS pairs FROM released r JOIN peer_items i ON i.n = r.item AND i.shut = 0
  LEFT JOIN needed n ON n.item = r.item LEFT JOIN counted c ON c.item = r.item AND c.student = r.student
  WHERE n.item IS NULL OR c.open = n.folders`;

export async function reachPeerRows(): Promise<Row[]> {
  const { plan, progress } = largeCourse(sized(5000, 200));
  const items = Object.values(plan.items);
  const resources = items.map((item) => resourceOf(plan, item));
  const reach = reachAt(plan, progress, now);
  // Who is in which group was read beforehand on all sides; items, conditions, dates and marks are compiled anew.
  const ours = await fastest(
    {
      ours: unseen(plan, (one) => {
        const { placements, enrolments } = plan;
        keep(evaluate(reachAt({ ...one, placements, enrolments }, { ...progress }, now)));
      }),
    },
    15,
  );
  const all = reach.students.length * items.length;
  const rows: Row[] = [];

  const combine = seesFrom(plan);
  for (const [name, decides, count] of [
    ["@cedar-policy/cedar-wasm", cedarDecides(resources), 8],
    ["@casl/ability", caslDecides(resources), 60],
  ] as const) {
    const students = studentsOf(reach, progress, count);
    const run = () =>
      students.map((student) => {
        const decide = decides(student);
        // Each student and item is decided once, however many folders ask.
        const decided = new Map(items.map(({ id }) => [id, decide(id)]));
        return combine((id) => decided.get(id) === true);
      });
    run().forEach((open, index) => {
      const mine = items.filter((item) => hasBit(reach.sees(item), index)).map(({ id }) => id);
      if (mine.join() !== open.join()) throw new Error(`${name} gives another answer for student ${index}`);
    });
    const best = await fastest({ peer: () => keep(run().length) }, 3);
    const scaled = (best.peer / (count * items.length)) * all;
    rows.push({
      name: "Reach: decisions beside a policy engine",
      ours: ours.ours,
      against: [{ name: `${name}, ${count} students, scaled`, milliseconds: scaled, kind: "peer" }],
      note: `${all.toLocaleString("en-GB")} pairs, equal answers, memberships read before; target at most 0.01`,
    });
  }

  const connection = await mysql.createConnection({ uri: process.env.AMBER_DATABASE_URL as string });
  const few = 300;
  await fillTables(connection, plan, studentsOf(reach, progress, few), resources);
  let pairs = 0;
  for (const item of items) for (let index = 0; index < few; index++) if (hasBit(reach.sees(item), index)) pairs++;
  const ask = async () => ((await connection.query(query)) as unknown as [{ pairs: number }[]])[0][0]?.pairs;
  const found = await ask();
  if (found !== pairs) throw new Error(`the query gives ${found} pairs, not ${pairs}`);
  const sql = await fastest({ peer: ask }, 2);
  await connection.end();
  rows.push({
    name: "Reach: decisions beside one SQL query",
    ours: ours.ours,
    against: [
      {
        name: `MariaDB, ${few} students, scaled`,
        milliseconds: (sql.peer / few) * reach.students.length,
        kind: "peer",
      },
    ],
    note: `${all.toLocaleString("en-GB")} pairs, equal answers, memberships read before; target at most 0.05`,
  });
  return rows;
}
