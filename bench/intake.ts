import Papa from "papaparse";
import { readTable, type TextTable } from "../src/core/formats/text.ts";
import { matchColumns } from "../src/core/intake/columns.ts";
import { reconcile } from "../src/core/intake/reconcile.ts";
import { rosterRows } from "../src/core/intake/rows.ts";
import { takeIn } from "../src/core/intake/take-in.ts";
import { type Course, emptyPlan } from "../src/core/plan/types.ts";
import { fastest, keep, type Row } from "./measure.ts";

const now = Date.UTC(2026, 10, 25, 10);
const intakeId = "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c";

function text(rows: number, changed: boolean): string {
  const lines = ["Student No,Surname,First name,E-mail,Login,Section"];
  for (let at = 0; at < rows; at++) {
    const given = changed && at % 20 === 0 ? `Given${at}x` : `Given${at}`;
    lines.push(`00${1_000_000 + at},Family${at % 997},${given},p${at}@x.example,p${at},S${at % 40}`);
  }
  return lines.join("\r\n");
}

/** Reading and reconciling a roster against as many known people, beside a bare parse of the same text. */
export async function intakeRows(): Promise<Row[]> {
  const course: Course = {
    id: "bench",
    code: "B",
    title: "Bench",
    term: "",
    termStart: "2026-09-28",
    termEnd: "2027-01-01",
    timeZone: "Europe/Dublin",
    noClassDays: [],
    datePolicy: "most generous",
    layerOrder: [],
    indexes: { discussions: true, files: true, calendar: true, work: true },
  };
  const options = { partial: false, acceptedSections: [], chosen: [], samePeople: {}, now };
  const rows: Row[] = [];
  for (const size of [10_000, 100_000]) {
    const read = (content: string) => {
      const table = readTable("roster.csv", content) as TextTable;
      return rosterRows(table, matchColumns(table));
    };
    const empty = emptyPlan(course);
    const known = takeIn(empty, reconcile(empty, read(text(size, false)), options), intakeId, now - 1000, null);
    const changed = text(size, true);
    const best = await fastest(
      {
        ours: () => keep(reconcile({ ...known }, read(changed), options).counts.changed),
        papaparse: () => keep(Papa.parse<string[]>(changed).data.length),
      },
      3,
    );
    rows.push({
      name: `Intake: read and reconcile ${size.toLocaleString("en-GB")} rows`,
      ours: best.ours,
      against: [{ name: "bare papaparse parse", milliseconds: best.papaparse, kind: "peer" }],
      note: "as many known people, 5 % changed",
    });
  }
  return rows;
}
