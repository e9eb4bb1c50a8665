/** What students hand in and write in threads, with the files that go with it. Source: semantics.md sections 3, 4 and 6. */
import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import { parameters, rows, run, transaction } from "../store/database.ts";
import { touched } from "../store/progress.ts";

/** A file that goes with a post or a hand-in. */
export interface Attached {
  id: string;
  name: string;
  size: number;
}
/** A row's file, joined as `f`. */
export const fileColumns = "f.id AS fileId, f.name AS fileName, f.size AS fileSize";
export interface FileColumns {
  fileId: string | null;
  fileName: string | null;
  fileSize: number | null;
}
export const attachedOf = ({ fileId, fileName, fileSize }: FileColumns): Attached | null =>
  fileId ? { id: fileId, name: fileName ?? "", size: fileSize ?? 0 } : null;

export interface NewPost {
  /** The item it is written in, the group on whose page it stands, or the thread that was begun there. */
  placeId: string;
  /** Whose thread of a split discussion or of a group's page; null in a discussion that is not split. */
  groupId: string | null;
  personId: string;
  /** HTML; it is made safe when it is shown. */
  body: string;
  /** The post that it answers. */
  parentId?: string | null;
  fileId?: string | null;
}

/** Whoever stores what a form sent, and the id that the form gave it: sent twice, it is stored once. */
export interface Sending {
  /** A UUID made where the form was; null where there was none. */
  sendId: string | null;
  /** Epoch milliseconds. */
  at: number;
}

/**
 * Stores a row under the id that its form gave it; gives the id. The same sent again is the row that stands already;
 * something else under the same id, as from a page that one went back to, is a row of its own.
 */
async function storeOnce(
  { sendId }: Sending,
  insert: (id: string) => Promise<number>,
  isSame: (id: string) => Promise<boolean>,
): Promise<string> {
  if (sendId !== null) {
    if ((await insert(sendId)) > 0) return sendId;
    if (await isSame(sendId)) return sendId;
  }
  const id = v7();
  await insert(id);
  return id;
}

/** Whether a row `s` that was stored has a file like the one given: of one name and size, or none as well. */
const sameFile = `(SELECT CONCAT(size, ' ', name) FROM files WHERE id = s.file_id)
  <=> (SELECT CONCAT(size, ' ', name) FROM files WHERE id = ?)`;

/** A post in a thread: a group's of a split discussion, or the one thread of a discussion that is not. Gives its id. */
export function recordPost(courseId: string, post: NewPost, sending: Sending): Promise<string> {
  const { placeId, groupId, personId, body, parentId = null, fileId = null } = post;
  return storeOnce(
    sending,
    (id) =>
      run(
        `INSERT IGNORE INTO posts (id, course_id, place_id, group_id, person_id, at, body, parent_id, file_id, is_html)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, TRUE)`,
        [id, courseId, placeId, groupId, personId, sending.at, body, parentId, fileId],
      ),
    async (id) => {
      const found = await rows(
        `SELECT id FROM posts s WHERE id = ? AND course_id = ? AND place_id = ? AND person_id = ? AND BINARY body = ?
         AND ${sameFile}`,
        [id, courseId, placeId, personId, body, fileId],
      );
      return found.length > 0;
    },
  );
}

/** Deletes a post of somebody: it is not shown any more, and staff keep what it said. False where it is none of theirs. */
export const deletePost = async (courseId: string, postId: string, personId: string, at: number): Promise<boolean> =>
  (await run(
    "UPDATE posts SET deleted_at = ? WHERE course_id = ? AND id = ? AND person_id = ? AND deleted_at IS NULL",
    [at, courseId, postId, personId],
  )) > 0;

/** Puts a deleted post back as it was. False where it is none of theirs, or was not deleted. */
export const putPostBack = async (courseId: string, postId: string, personId: string): Promise<boolean> =>
  (await run(
    "UPDATE posts SET deleted_at = NULL WHERE course_id = ? AND id = ? AND person_id = ? AND deleted_at IS NOT NULL",
    [courseId, postId, personId],
  )) > 0;

/** Changes a post of somebody; what it said before is kept. False where it is none of theirs. */
export const editPost = (
  courseId: string,
  postId: string,
  personId: string,
  body: string,
  at: number,
): Promise<boolean> =>
  transaction(async (connection) => {
    const [found] = await rows<{ at: number; edited_at: number | null; body: string; is_html: number }>(
      "SELECT at, edited_at, body, is_html FROM posts WHERE course_id = ? AND id = ? AND person_id = ? AND deleted_at IS NULL FOR UPDATE",
      [courseId, postId, personId],
      connection,
    );
    if (!found) return false;
    // Sent again it is changed already.
    if (found.body === body) return true;
    await run(
      "INSERT INTO post_versions (post_id, at, body, is_html) VALUES (?, ?, ?, ?)",
      [postId, found.edited_at ?? found.at, found.body, Boolean(found.is_html)],
      connection,
    );
    await run("UPDATE posts SET body = ?, is_html = TRUE, edited_at = ? WHERE id = ?", [body, at, postId], connection);
    return true;
  });

export interface Post {
  id: string;
  placeId: string;
  groupId: string | null;
  personId: string;
  at: number;
  body: string;
  isHtml: boolean;
  parentId: string | null;
  editedAt: number | null;
  /** Since when it is deleted; null where it stands. */
  deletedAt: number | null;
  file: Attached | null;
}
/** Posts in some places: an item and the copies that were made into it, or a thread of a group's page. */
export async function postsOf(courseId: string, placeIds: string[]): Promise<Post[]> {
  const found = await rows<Omit<Post, "file"> & FileColumns>(
    `SELECT p.id, p.place_id AS placeId, p.group_id AS groupId, p.person_id AS personId, p.at, p.body,
       p.is_html AS isHtml, p.parent_id AS parentId, p.edited_at AS editedAt, p.deleted_at AS deletedAt, ${fileColumns}
     FROM posts p LEFT JOIN files f ON f.id = p.file_id
     WHERE p.course_id = ? AND p.place_id IN (${parameters(placeIds)}) ORDER BY p.at, p.id`,
    [courseId, ...placeIds],
  );
  return found.map(({ fileId, fileName, fileSize, ...post }) => ({
    ...post,
    isHtml: Boolean(post.isHtml),
    file: attachedOf({ fileId, fileName, fileSize }),
  }));
}

/** What posts said before they were edited, the first first. */
export const versionsOf = (
  postIds: string[],
): Promise<{ postId: string; at: number; body: string; isHtml: number }[]> =>
  postIds.length === 0
    ? Promise.resolve([])
    : rows(
        `SELECT post_id AS postId, at, body, is_html AS isHtml FROM post_versions
         WHERE post_id IN (${parameters(postIds)}) ORDER BY at`,
        postIds,
      );

export interface NewHandIn {
  text: string;
  link: string | null;
  fileId: string | null;
}

/** Why a hand-in is not taken any more by the time that it is stored; null where it is. */
export type WhyNotNow = (connection: PoolConnection) => Promise<string | null>;

/**
 * Stores a hand-in; gives its id, or why it is not taken. Whoever hands in at the same time in a course waits for it, so
 * that `whyNotNow`, which is asked then, counts every attempt.
 */
export function recordHandIn(
  courseId: string,
  { itemId, personId, text, link, fileId }: NewHandIn & { itemId: string; personId: string },
  sending: Sending,
  whyNotNow: WhyNotNow = async () => null,
): Promise<{ id: string } | { failure: string }> {
  return transaction(async (connection) => {
    await run(touched, [courseId], connection);
    const isSame = async (id: string) => {
      const found = await rows(
        `SELECT id FROM hand_ins s WHERE id = ? AND course_id = ? AND item_id = ? AND person_id = ? AND BINARY body = ?
         AND link <=> ? AND ${sameFile}`,
        [id, courseId, itemId, personId, text, link, fileId],
        connection,
      );
      return found.length > 0;
    };
    if (sending.sendId !== null && (await isSame(sending.sendId))) return { id: sending.sendId };
    const failure = await whyNotNow(connection);
    if (failure !== null) return { failure };
    const insert = (id: string) =>
      run(
        `INSERT IGNORE INTO hand_ins (id, course_id, item_id, person_id, at, body, link, file_id)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
        [id, courseId, itemId, personId, sending.at, text, link, fileId],
        connection,
      );
    return { id: await storeOnce(sending, insert, isSame) };
  });
}

/** What was handed in: a text, a link, a file, or several of them. */
export interface WorkContent {
  body: string;
  link: string | null;
  file: Attached | null;
}
type WorkRow = { id: string; personId: string; at: number; body: string; link: string | null } & FileColumns;
const handIns = `SELECT h.id, h.person_id AS personId, h.at, h.body, h.link, ${fileColumns}
  FROM hand_ins h LEFT JOIN files f ON f.id = h.file_id`;
const contentOf = ({ id, personId, at, body, link, ...file }: WorkRow) => ({
  id,
  personId,
  at,
  body,
  link,
  file: attachedOf(file),
});

/** Every hand-in of an item and of the copies that were made into it, the first first. */
export const handInsOf = async (courseId: string, itemIds: string[]) =>
  (
    await rows<WorkRow>(`${handIns} WHERE h.course_id = ? AND h.item_id IN (${parameters(itemIds)}) ORDER BY h.at`, [
      courseId,
      ...itemIds,
    ])
  ).map(contentOf);

/** What some hand-ins hold, by their ids. */
export const contentsOf = async (courseId: string, ids: string[]) =>
  (await rows<WorkRow>(`${handIns} WHERE h.course_id = ? AND h.id IN (${parameters(ids)})`, [courseId, ...ids])).map(
    contentOf,
  );

/** Whose post or hand-in a file goes with, and in whose thread or on whose page that stands; null where it goes with none. */
export async function attachedTo(
  courseId: string,
  fileId: string,
): Promise<{ personId: string; groupId: string | null; isPost: boolean } | null> {
  const [post] = await rows<{ personId: string; groupId: string | null }>(
    "SELECT person_id AS personId, group_id AS groupId FROM posts WHERE course_id = ? AND file_id = ?",
    [courseId, fileId],
  );
  if (post) return { ...post, isPost: true };
  const [entry] = await rows<{ groupId: string }>(
    "SELECT group_id AS groupId FROM group_entries WHERE course_id = ? AND file_id = ? AND ended_at IS NULL",
    [courseId, fileId],
  );
  // What a group keeps is the whole group's, not one member's.
  if (entry) return { personId: "", groupId: entry.groupId, isPost: true };
  const [work] = await rows<{ personId: string }>(
    "SELECT person_id AS personId FROM hand_ins WHERE course_id = ? AND file_id = ?",
    [courseId, fileId],
  );
  if (work) return { ...work, groupId: null, isPost: false };
  const [answer] = await rows<{ personId: string }>(
    "SELECT saved_by AS personId FROM attempt_answers WHERE course_id = ? AND file_id = ?",
    [courseId, fileId],
  );
  return answer ? { ...answer, groupId: null, isPost: false } : null;
}
