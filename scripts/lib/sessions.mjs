/** Sessions of students, written into the database as if they had signed in: for measures with many readers. */
import { createHash, randomBytes, randomUUID } from "node:crypto";

/** Sessions of so many students of a course: `{ courseId, sourcedId, cookie }` each. */
export async function openSessions(database, code, count) {
  const [people] = await database.query(
    `SELECT DISTINCT p.sourced_id, p.course_id FROM people p JOIN courses c ON c.id = p.course_id
     JOIN enrolments e ON e.person_id = p.id AND e.role = 'student' AND e.until IS NULL WHERE c.code = ? ORDER BY p.id LIMIT ?`,
    [code, count],
  );
  const found = [];
  for (const { sourced_id: sourcedId, course_id: courseId } of people) {
    const [id, token] = [randomUUID(), randomBytes(32).toString("base64url")];
    const name = `${code} ${sourcedId}`;
    await database.execute(
      `INSERT INTO accounts (id, username, login, sourced_id, display_name, password_hash) VALUES (?, ?, ?, ?, ?, 'x')
       ON DUPLICATE KEY UPDATE id = id`,
      [id, name, name.toLowerCase(), sourcedId, name],
    );
    const [[account]] = await database.execute("SELECT id FROM accounts WHERE sourced_id = ?", [sourcedId]);
    await database.execute("INSERT INTO sessions (token_hash, account_id, expires_at) VALUES (?, ?, ?)", [
      createHash("sha256").update(token).digest("hex"),
      account.id,
      Date.now() + 12 * 3_600_000,
    ]);
    found.push({ courseId, sourcedId, cookie: `amber_session=${token}` });
  }
  return found;
}
