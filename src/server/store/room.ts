/** Whether the disk of the database has room: a database whose disk is full ends, and then nobody reads either. */
import { statfs } from "node:fs/promises";
import { config } from "../config.ts";
import { log } from "../log.ts";

/** A disk fills slowly; it is asked again after so many milliseconds. */
const askedEvery = 2000;
let known = { at: Number.NEGATIVE_INFINITY, room: Promise.resolve(true) };

async function look(): Promise<boolean> {
  const { AMBER_DATABASE_FOLDER: folder, AMBER_DISK_RESERVE_MB: reserve } = config();
  // A database on another machine is watched there.
  if (!folder) return true;
  try {
    const { bavail, bsize } = await statfs(folder);
    const free = Math.floor((bavail * bsize) / 1_000_000);
    if (free < reserve)
      log.error({ folder, free, reserve }, "the disk of the database is almost full: nothing is stored");
    return free >= reserve;
  } catch (error) {
    log.error({ folder, error: String(error) }, "the disk of the database cannot be looked at");
    return true;
  }
}

/** Whether anything may be stored. */
export function hasRoom(): Promise<boolean> {
  if (performance.now() - known.at > askedEvery) known = { at: performance.now(), room: look() };
  return known.room;
}
