/** A new item said in one line, and what of an item is otherwise for somebody. */
import fc from "fast-check";
import { v7 } from "uuid";
import { describe, expect, test } from "vitest";
import type { Item } from "../plan/types.ts";
import { group, person, section } from "../tests/fixture.ts";
import { lineContext } from "../tests/line-course.ts";
import { otherwiseFor } from "./dates-form.ts";
import { isNotUnderstood } from "./names.ts";
import { readNewItem } from "./new-item.ts";

const context = lineContext();
const { plan } = context;

describe("a new item in one line", () => {
  const item = (text: string) => {
    const made = readNewItem(text, context, v7);
    if (isNotUnderstood(made)) throw new Error(JSON.stringify(made));
    return made.item;
  };
  test("its kind, title, folder, audience, dates, points, split and address, in any order behind the title", () => {
    const whole = {
      kind: "discussion",
      title: "Field notes",
      parentId: "readings",
      audience: { to: [group("North"), person("ben")], minus: [] },
      dates: { due: "2026-12-01T09:00", closes: "2026-12-02T10:00" },
      points: 10,
      split: { layerId: "Banks", between: "readable" },
      published: false,
    };
    const clauses = [
      "due 2026-12-01 9:00",
      "closes 2026-12-02 10:00",
      "10 points",
      "a thread each of Banks, readable",
      "unpublished",
    ];
    fc.assert(
      fc.property(fc.shuffledSubarray(clauses, { minLength: clauses.length }), fc.boolean(), (order, whomLast) => {
        const whom = "for North and 00240031";
        const head = "discussion Field notes in Readings";
        const line = whomLast ? [head, ...order, whom] : [`${head} ${whom}`, ...order];
        expect(item(line.join(", "))).toMatchObject(whole);
      }),
    );
  });
  test("an event starts and ends; a link has its address, wherever it stands; a title may hold a comma", () => {
    expect(item("event Flood talk, starts 2026-12-01 9:00, ends 2026-12-01 10:30").dates).toEqual({
      due: "2026-12-01T09:00",
      closes: "2026-12-01T10:30",
    });
    expect(item("link Talk, recorded, https://weave.example/talk, for North")).toMatchObject({
      title: "Talk, recorded",
      body: "https://weave.example/talk",
      audience: { to: [group("North")] },
    });
    expect(item("quiz Check, attempts 2, 45 minutes, access word otter").dates).toEqual({
      attempts: 2,
      minutes: 45,
      accessWord: "otter",
    });
  });
  test("what is not understood is marked", () => {
    const wrong = (text: string) => readNewItem(text, context, v7);
    expect(wrong("page A, due someday")).toMatchObject({ word: "someday" });
    expect(wrong("page A for Nrth")).toMatchObject({ word: "Nrth" });
    expect(wrong("page A, a thread each of Banks")).toMatchObject({ could: expect.arrayContaining(["discussion"]) });
    expect(wrong("discussion A, a thread each of Bankers")).toMatchObject({ word: "Bankers" });
    expect(wrong("quest A")).toMatchObject({ says: "Which kind of item?" });
    expect(wrong("quiz")).toMatchObject({ says: "What is the quiz called?" });
  });
});

test("what of an item is otherwise for somebody, several at once", () => {
  const lab = plan.items.lab as Item;
  const both = otherwiseFor(context, lab, "00240030: due +1d, attempts 2, password otter; D2: due +2d\n");
  expect(both).toEqual({
    commands: [
      {
        kind: "override.set",
        itemIds: ["lab"],
        target: person("ada"),
        dates: { due: "2026-11-28T17:00", attempts: 2, accessWord: "otter" },
      },
      { kind: "override.set", itemIds: ["lab"], target: section("D2"), dates: { due: "2026-11-29T17:00" } },
    ],
  });
  const limited = { ...lab, dates: { attempts: 3 } } as Item;
  for (const more of ["attempts +1", "+1 attempts"])
    expect(otherwiseFor(context, limited, `D2: ${more}`)).toMatchObject({ commands: [{ dates: { attempts: 4 } }] });
  expect(otherwiseFor(context, lab, "D2")).toMatchObject({ word: "D2" });
  expect(otherwiseFor(context, lab, "Nobody Else: due +1d")).toMatchObject({ word: "Nobody Else" });
  expect(otherwiseFor(context, lab, "D2: due never")).toMatchObject({ word: "never" });
});
