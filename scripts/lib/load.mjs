/**
 * Students and staff at work over HTTP while things are taken away, and what came of it: for `npm run soak` and the proof of
 * the cluster. What is sent and not acknowledged is sent again under the same id, as a browser does.
 */
import { randomUUID } from "node:crypto";
import { readFileSync } from "node:fs";
import { createHistogram } from "node:perf_hooks";
import { pause, root } from "./machine.mjs";

const { password } = JSON.parse(readFileSync(`${root}/demo/sign-ins.json`, "utf8"));
const again = 30;
const thinking = ({ pace }) => pause(pace * (0.5 + Math.random()));
const count = (map, key) => map.set(key, (map.get(key) ?? 0) + 1);
const json = (body) => ({ headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

/**
 * `isOver`: whether all stop. `isFault`: whether something is away, or was a moment ago. `looksBack`: whether whoever wrote
 * reads at once what they wrote. `pace`: milliseconds between two pages of a reader, about.
 */
export function createLoad({ url, isOver, isFault, looksBack = false, pace = 400 }) {
  return {
    ...{ url, isOver, isFault, looksBack, pace },
    seen: {
      /** How long answers took while nothing was away, in microseconds. */
      times: createHistogram(),
      answers: 0,
      /** What was not as it should be, and how often. */
      wrong: new Map(),
      /** What failed while something was away: requests by what they were answered. */
      failed: new Map(),
      /** Own writes that were acknowledged and not read by whoever wrote them. */
      stale: new Map(),
    },
    /** What was acknowledged: ids of posts and publications; points by student; groups by student, null for none. */
    kept: { posts: new Set(), publications: new Set(), marks: new Map(), choices: new Map() },
  };
}

/** Whether an answer that failed tells why, in words for whoever asked. */
const saysWhy = (text) => /database|try again|starting/i.test(text);

/** Asks, and notes what came of it. Null where there was no answer that can be used. */
export async function ask(load, path, { cookie, wanted = [200], ...init }) {
  const { seen } = load;
  const begun = performance.now();
  const startedIn = load.isFault();
  let [status, text] = [0, ""];
  try {
    const answer = await fetch(load.url + path, {
      ...{ redirect: "manual", signal: AbortSignal.timeout(30_000), ...init },
      headers: { cookie, origin: load.url, ...init.headers },
    });
    status = answer.status;
    text = await answer.text();
  } catch {
    status = 0;
  }
  seen.answers++;
  const isInFault = startedIn || load.isFault();
  if (wanted.includes(status)) {
    // While something is away answers wait for it: that is no measure of the application.
    if (!isInFault) seen.times.record(Math.max(1, Math.round((performance.now() - begun) * 1000)));
    return { status, text };
  }
  noteFailure(seen, { what: `${init.method ?? "GET"} ${path}`, status, text, isInFault });
  return null;
}

function noteFailure({ wrong, failed }, { what, status, text, isInFault }) {
  if (!isInFault || (status !== 0 && status < 500))
    count(wrong, `${what.replace(/[0-9a-f-]{36}/g, "ID")}: ${status || "no answer"}`);
  else {
    const answer = status === 0 ? "no answer" : `${status}${saysWhy(text) ? ", said why" : ""}`;
    count(failed, `${what.split(" ")[0]}, ${answer}`);
  }
}

/** Sends until it is acknowledged; null where it never was. */
async function insist(load, path, init) {
  for (let times = 0; times < again; times++) {
    const answer = await ask(load, path, init);
    if (answer) return answer;
    await pause(1000);
  }
  return null;
}

/** Reads what was just written; `holds` says whether it is there. */
async function lookBack(load, what, path, cookie, holds) {
  if (!load.looksBack) return;
  const answer = await ask(load, path, { cookie });
  if (answer && !holds(answer.text)) count(load.seen.stale, what);
}

export async function signIn(load, username) {
  const answer = await fetch(`${load.url}/sign-in`, {
    ...{ method: "POST", redirect: "manual", headers: { origin: load.url } },
    body: new URLSearchParams({ username, password }),
  });
  return (answer.headers.get("set-cookie") ?? "").split(";")[0];
}

export async function reader(load, { courseId, cookie }) {
  await thinking(load);
  while (!load.isOver()) {
    const home = await ask(load, `/course/${courseId}`, { cookie });
    const items = [...(home?.text.matchAll(/href="(\/course\/[^"]+\/item\/[^"?#]+)"/g) ?? [])].map(([, path]) => path);
    const some = items[Math.floor(Math.random() * items.length)];
    for (const path of [some, `/course/${courseId}/marks`, `/course/${courseId}/calendar`].filter(Boolean)) {
      await thinking(load);
      await ask(load, path, { cookie });
    }
    await thinking(load);
  }
}

/** Posts in the thread of an item, again and again. */
export async function writer(load, { courseId, cookie }, itemId) {
  const path = `/course/${courseId}/item/${itemId}`;
  const page = await ask(load, path, { cookie });
  const thread = /name="thread" value="([^"]*)"/.exec(page?.text ?? "")?.[1] ?? "";
  for (let at = 1; !load.isOver(); at++) {
    const send = randomUUID();
    const form = new FormData();
    for (const [name, value] of Object.entries({ send, thread, post: `Post ${at} of the soak` })) form.set(name, value);
    if (await insist(load, path, { cookie, method: "POST", body: form, wanted: [303] })) {
      load.kept.posts.add(send);
      await lookBack(load, "a post", path, cookie, (text) => text.includes(send));
    }
    await thinking(load);
  }
}

export const sendJson = (load, path, cookie, body, wanted) =>
  ask(load, path, { cookie, method: "POST", ...json(body), ...(wanted ? { wanted } : {}) });

/** Drafts and publishes commands; gives the new revision, or null where it is not known to be published. */
export async function publish(load, { courseId, cookie }, commands) {
  const api = `/api/courses/${courseId}`;
  const draft = await sendJson(load, `${api}/draft`, cookie, { commands });
  const plan = draft && (await ask(load, `${api}/plan?after=0`, { cookie }));
  if (!plan) return null;
  const publicationId = randomUUID();
  const body = { publicationId, revision: JSON.parse(plan.text).revision, version: JSON.parse(draft.text).version };
  // 409: published already, where the answer to the first time was lost: then what is drafted is no more.
  const answer = await insist(load, `${api}/publish`, { cookie, method: "POST", ...json(body), wanted: [200, 409] });
  if (answer?.status !== 200) return null;
  load.kept.publications.add(publicationId);
  return body.revision + 1;
}

/** Renames an item and publishes that, every three seconds. */
export async function publisher(load, { courseId, cookie }) {
  const plan = `/api/courses/${courseId}/plan`;
  const [itemId] = Object.keys(JSON.parse((await ask(load, plan, { cookie })).text).plan.items);
  for (let at = 1; !load.isOver(); at++) {
    await pause(3000);
    const command = { id: randomUUID(), kind: "item.change", itemId, fields: { title: `Title ${at}` } };
    const revision = await publish(load, { courseId, cookie }, [command]);
    if (revision !== null)
      await lookBack(load, "a publication", `${plan}?after=${revision}`, cookie, (text) => {
        return JSON.parse(text).revision >= revision;
      });
  }
}

/** Gives one student one mark after another; of each what was seen before is told, as the grid does. */
export async function marker(load, { courseId, cookie }, { itemId, personId }) {
  const api = `/api/courses/${courseId}`;
  const isTheirs = (mark) => mark.itemId === itemId && mark.personId === personId;
  const value = (mark) => mark && { points: mark.points, excused: mark.excused };
  const first = await insist(load, `${api}/progress`, { cookie });
  let before = value(JSON.parse(first.text).marks.find(isTheirs)) ?? null;
  for (let points = 1; !load.isOver(); points++) {
    const mark = { itemId, personId, points, excused: false, seen: before };
    const init = { cookie, method: "POST", ...json({ marks: [mark] }) };
    const answer = await insist(load, `${api}/marks`, init);
    const newer = answer && JSON.parse(answer.text).newer[0];
    // Whose answer was lost may be stored: then it is what is newer.
    if (newer && newer.mark?.points !== points) count(load.seen.wrong, "a mark of somebody who does not mark");
    if (answer) {
      before = { points, excused: false };
      load.kept.marks.set(personId, points);
      const isThere = (text) => JSON.parse(text).marks.find(isTheirs)?.points === points;
      await lookBack(load, "a mark", `${api}/progress`, cookie, isThere);
    }
    await pause(1500);
  }
}

/** Chooses a group and gives it back, again and again, as a student. */
export async function chooser(load, { courseId, cookie, personId }, groupIds) {
  const path = `/course/${courseId}/groups`;
  await thinking(load);
  const post = (name, groupId) =>
    insist(load, path, { cookie, method: "POST", body: new URLSearchParams({ [name]: groupId }), wanted: [303, 400] });
  for (let at = 0; !load.isOver(); at++) {
    const groupId = groupIds[at % groupIds.length];
    // 400: done already, where the answer to the first time was lost.
    if (!(await post("choose", groupId))) break;
    load.kept.choices.set(personId, groupId);
    const own = `name="leave" value="${groupId}"`;
    await lookBack(load, "a choice", path, cookie, (text) => text.includes(own));
    await thinking(load);
    if (load.isOver() || !(await post("leave", groupId))) break;
    load.kept.choices.set(personId, null);
    await lookBack(load, "a choice given back", path, cookie, (text) => !text.includes(own));
    await thinking(load);
  }
}

/**
 * What was acknowledged and is not there, or is there twice, in sentences. `query(sql, values)` gives rows; of marks those of
 * `itemId`, of choices the groups `groupIds`.
 */
export async function lost({ kept }, query, { itemId, groupIds = [] } = {}) {
  const said = [];
  const one = async (sql, values) => Number(Object.values((await query(sql, values))[0] ?? {})[0] ?? 0);
  for (const [what, ids, sql] of [
    ["posts", kept.posts, "SELECT COUNT(*) FROM posts WHERE id IN (?)"],
    ["publications", kept.publications, "SELECT COUNT(*) FROM publications WHERE id IN (?)"],
  ]) {
    const there = ids.size === 0 ? 0 : await one(sql, [[...ids]]);
    if (there !== ids.size)
      said.push(`${ids.size - there} of ${ids.size} ${what} that were acknowledged are not there`);
  }
  const doubled =
    "SELECT COUNT(*) FROM (SELECT body FROM posts WHERE body LIKE ? GROUP BY person_id, body HAVING COUNT(*) > 1) d";
  const twice = await one(doubled, ["%of the soak%"]);
  if (twice > 0) said.push(`${twice} posts are there twice`);
  for (const [personId, points] of kept.marks) {
    const [row] = await query("SELECT points FROM marks WHERE item_id = ? AND person_id = ?", [itemId, personId]);
    // One more may have been stored after the last that was acknowledged.
    if (![points, points + 1].includes(Number(row?.points))) said.push(`A mark of ${points} is ${row?.points}`);
  }
  for (const [personId, groupId] of kept.choices) {
    const rows = await query(
      "SELECT group_id AS groupId FROM placements WHERE person_id = ? AND group_id IN (?) AND until IS NULL",
      [personId, groupIds],
    );
    if (rows.length > 1) said.push(`Somebody is in ${rows.length} groups of which one can be chosen`);
    if ((rows[0]?.groupId ?? null) !== groupId) said.push("A choice that was acknowledged is not as it was");
  }
  return said;
}

/** What was seen, in sentences. */
export function sayLoad({ seen, kept }) {
  const list = (map) => [...map].map(([what, times]) => `${times} x ${what}`).join("; ") || "none";
  const milliseconds = (share) => Math.round(seen.times.percentile(share) / 1000);
  return [
    `${seen.answers.toLocaleString("en-GB")} requests; failed while something was away: ${list(seen.failed)}`,
    `While nothing was: p50 ${milliseconds(50)} ms, p99 ${milliseconds(99)} ms, the longest ${Math.round(seen.times.max / 1000)} ms`,
    `Acknowledged: ${kept.posts.size} posts, ${kept.publications.size} publications, marks of ${kept.marks.size} students, choices of ${kept.choices.size}`,
    `Own writes that were not read at once: ${list(seen.stale)}`,
  ];
}
