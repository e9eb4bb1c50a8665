import { describe, expect, test } from "vitest";
import { noProgress, type Progress } from "../plan/progress.ts";
import { reachAt } from "../reach/reach.ts";
import { addItem, addLayer, addStudent, coursePlan, instant, t0 } from "../tests/fixture.ts";
import { sheetOf } from "./sheet.ts";

describe("shared marks", () => {
  const at = (day: number) => instant(`2026-11-${day}T12:00:00Z`);
  /** Ada and Ben hand in together; Cas joins the group after that, Ben leaves it. */
  function teams() {
    const plan = coursePlan();
    addLayer(plan, "Teams", ["Alder", "Birch"]);
    for (const id of ["ada", "ben", "cas"]) addStudent(plan, id);
    const place = (id: string, groupId: string, personId: string, since: number, until: number | null) => {
      plan.placements[id] = { id, groupId, personId, since, until, held: false };
    };
    place("a", "Alder", "ada", 0, null);
    place("b", "Alder", "ben", 0, at(12));
    place("c", "Alder", "cas", at(12), null);
    addItem(plan, "survey", {
      kind: "assignment",
      points: 20,
      dates: { due: "2026-11-20T17:00" },
      split: { layerId: "Teams", between: "sealed" },
    });
    return plan;
  }
  const handIns = [{ id: "h", personId: "ada", itemId: "survey", at: at(10) }];
  const groupMarks = [{ groupId: "Alder", itemId: "survey", points: 15, excused: false, at: at(22) }];
  const marks = (progress: Partial<Progress>) => {
    const plan = teams();
    const sheet = sheetOf(reachAt(plan, { ...noProgress, ...progress }, t0));
    return Object.fromEntries(
      ["ada", "ben", "cas"].map((id) => {
        const cell = sheet.cell(plan.items.survey as never, id);
        return [id, cell?.mark ? [cell.state, cell.mark.points, cell.mark.shared ?? "own"] : [cell?.state]];
      }),
    );
  };
  test("one member's hand-in counts for all who were in the group then", () => {
    expect(marks({ handIns })).toEqual({ ada: ["handed in"], ben: ["handed in"], cas: ["missing"] });
  });
  test("a shared mark goes to the members as of the hand-in", () => {
    expect(marks({ handIns, groupMarks })).toEqual({
      ada: ["marked", 15, "Alder"],
      ben: ["marked", 15, "Alder"],
      cas: ["missing"],
    });
  });
  test("without a hand-in it goes to the members as of when it is given", () => {
    expect(marks({ groupMarks })).toEqual({
      ada: ["marked", 15, "Alder"],
      ben: ["missing"],
      cas: ["marked", 15, "Alder"],
    });
  });
  test("a person's own mark beats it, given before or after", () => {
    for (const own of [at(21), at(23)])
      expect(
        marks({
          handIns,
          groupMarks,
          marks: [{ personId: "ada", itemId: "survey", points: 18, excused: false, at: own }],
        }),
      ).toMatchObject({ ada: ["marked", 18, "own"], ben: ["marked", 15, "Alder"] });
  });
  test("a hand-in after the mark does not move it to others", () => {
    const later = { id: "l", personId: "cas", itemId: "survey", at: at(23) };
    expect(marks({ handIns: [...handIns, later], groupMarks })).toMatchObject({
      ben: ["marked", 15, "Alder"],
      cas: ["handed in"],
    });
  });
});
