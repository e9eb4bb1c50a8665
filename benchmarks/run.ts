/** One measure, named by the first argument; its rows go into the file that the second names. */
import { writeFileSync } from "node:fs";
import { applyRows } from "./apply.ts";
import { attemptRows } from "./attempts.ts";
import { auditRows } from "./audit.ts";
import { calendarRows } from "./calendar.ts";
import { followingRows } from "./following.ts";
import { formingRows } from "./forming.ts";
import { gradebookRows } from "./gradebook.ts";
import { gradebookPeerRows } from "./gradebook-peers.ts";
import { growthRows } from "./growth.ts";
import { hostileRows, intakeRows } from "./intake.ts";
import { listRows } from "./lists.ts";
import { type Row, sized } from "./measure.ts";
import { publishingRows } from "./publishing.ts";
import { reachRows } from "./reach.ts";
import { reachPeerRows } from "./reach-peers.ts";
import { timingRows } from "./timing.ts";

const measures: Record<string, () => Promise<Row[]>> = {
  reach: reachRows,
  "reach-peers": reachPeerRows,
  audit: auditRows,
  timing: timingRows,
  gradebook: gradebookRows,
  "gradebook-peers": gradebookPeerRows,
  "intake-10000": () => intakeRows(sized(10_000, 300)),
  "intake-100000": () => intakeRows(sized(100_000, 600)),
  "intake-hostile": () => hostileRows(sized(200_000, 300)),
  apply: applyRows,
  calendar: calendarRows,
  publishing: publishingRows,
  forming: formingRows,
  following: followingRows,
  attempts: attemptRows,
  lists: listRows,
  growth: growthRows,
};
const [name = "", file = ""] = process.argv.slice(2);
writeFileSync(file, JSON.stringify(await measures[name]?.()));
process.exit(0);
