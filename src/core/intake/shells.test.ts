import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { proposeShells, type TaughtClass, whyNotOneShell } from "./shells.ts";

const course = (id: string) => ({ id, code: id.toUpperCase(), title: `Course ${id}` });
const taught = (id: string, code: string, of: string | null = null): TaughtClass => ({
  id,
  code,
  title: `Class ${id}`,
  meets: "",
  course: of === null ? null : course(of),
});

describe("shells out of a registrar's classes", () => {
  it("are one a course, its classes by code as people count; a class of no course stands alone", () => {
    const shells = proposeShells([
      taught("3", "S10", "hyd"),
      taught("1", "S2", "hyd"),
      taught("9", "Choir"),
      taught("2", "A", "bio"),
    ]);
    expect(shells.map(({ code, classes }) => [code, classes.map((one) => one.code)])).toEqual([
      ["BIO", ["A"]],
      ["Choir", ["Choir"]],
      ["HYD", ["S2", "S10"]],
    ]);
  });
  it("hold every class once, whatever the registrar says", () => {
    const classes = fc.uniqueArray(
      fc.record({ id: fc.uuid(), code: fc.string(), of: fc.option(fc.constantFrom("a", "b", "c")) }),
      { selector: ({ id }) => id, maxLength: 30 },
    );
    fc.assert(
      fc.property(classes, (list) => {
        const shells = proposeShells(list.map(({ id, code, of }) => taught(id, code, of)));
        expect(shells.flatMap((shell) => shell.classes.map(({ id }) => id)).sort()).toEqual(
          list.map(({ id }) => id).sort(),
        );
        expect(new Set(shells.map(({ key }) => key)).size).toBe(shells.length);
        for (const { code, title, classes: own } of shells) {
          expect(code.length).toBeLessThanOrEqual(40);
          expect(title.length).toBeLessThanOrEqual(200);
          expect(new Set(own.map((one) => one.course?.id)).size).toBe(1);
        }
      }),
    );
  });
  it("cannot be made of nothing, nor of two classes of one code, however it is spelled", () => {
    expect(whyNotOneShell([])).toBe("Tick at least one class.");
    expect(whyNotOneShell([taught("1", "a1"), taught("2", "A2")])).toBeNull();
    expect(whyNotOneShell([taught("1", "a1"), taught("2", "A1")])).toContain(
      "Two of the classes have the code A1 (Class 1, Class 2)",
    );
    expect(whyNotOneShell([taught("1", "x".repeat(61))])).toContain("longer than 60 characters");
  });
});
