/**
 * The whole term under the most favourable progress: who can ever see what, when somebody could who is not meant to,
 * and what each part of a condition can come to. Progress starts blank and is judged leaf by leaf: a leaf about an item
 * may hold for whoever could have opened that item by then, and may as well not. Source: semantics.md sections 4 and 5.
 */

import { once } from "../../memo.ts";
import { noProgress } from "../../plan/progress.ts";
import type { Condition, Item, Plan } from "../../plan/types.ts";
import { algebraOf, type Bits, isEmpty, isSubset } from "../../sets/bits.ts";
import { verdictsOf } from "../judging.ts";
import { mentionsIn } from "../mentions.ts";
import type { ProgressLeaf } from "../progress-leaf.ts";
import { type Answers, noAnswers, type Reach, reachOf } from "../reach.ts";
import { type Step, stepsOf, studentsOfTerm } from "./term.ts";

/** A part of an item's condition over the term. */
export interface Part {
  item: Item;
  condition: Condition;
  /** Those whom the condition that it belongs to is asked of. */
  asked: Bits;
  mayEver: Bits;
  mayNotEver: Bits;
}
/** While somebody could reach an item who is not meant to. Half-open: [from, until), until null to the end of term. */
export interface Span {
  from: number;
  until: number | null;
  bits: Bits;
}
export interface Sweep {
  plan: Plan;
  students: readonly string[];
  indexOf: Map<string, number>;
  ever: Map<string, Bits>;
  /** Who could have handed something in, of items that a condition asks to be handed in. */
  everHandedIn: Map<string, Bits>;
  /** Who was within an item's own opens and closes at some moment. */
  everWithin: Map<string, Bits>;
  spans: Map<string, Span[]>;
  parts: Part[];
}

/** The whole term of a plan; computed when it is first asked for. */
export const sweep = once(compute);

function compute(plan: Plan): Sweep {
  const students = studentsOfTerm(plan);
  const items = Object.values(plan.items);
  const sets = algebraOf(students.length);
  const { everyone, nobody, both, either, without } = sets;
  const found: Sweep = {
    plan,
    students,
    indexOf: new Map(students.map((personId, index) => [personId, index])),
    ever: new Map(items.map(({ id }) => [id, nobody])),
    everHandedIn: new Map(),
    everWithin: new Map(items.map(({ id }) => [id, nobody])),
    spans: new Map(),
    parts: [],
  };
  const conditional = items.filter((item) => item.condition || item.variants.some(({ condition }) => condition));
  const { byItem, askedHandIns } = mentionsIn(plan);
  const handedIn = items.filter(({ id }) => askedHandIns.has(id));
  const parts = new Map<string, Map<Condition, Part>>();
  let asked: { step: Step; answers: Answers } | null = null;

  /** Who may have done what a leaf asks by now: whoever could see its item, and hand it in. A mark needs points. */
  const mayHold = (leaf: ProgressLeaf) => {
    const asked = plan.items[leaf.itemId];
    const possible =
      asked !== undefined &&
      (!("percent" in leaf) || (asked.points !== null && !(leaf.kind === "lessThan" && leaf.percent <= 0)));
    const ever = leaf.kind === "handedIn" ? found.everHandedIn : found.ever;
    return { may: possible ? (ever.get(leaf.itemId) ?? nobody) : nobody, mayNot: everyone };
  };
  const reachIn = (step: Step): Reach => {
    const answers = noAnswers();
    // Who is in which group, and so whom things are for, stays between the moments of the clock.
    if (asked && (asked.step === step || !step.moved)) {
      answers.audience = asked.answers.audience;
      answers.meant = asked.answers.meant;
    }
    asked = { step, answers };
    return reachOf(plan, noProgress, step.t, step.membershipSets, answers, { mayHold, momentOf: step.momentOf });
  };

  const record = (reach: Reach, step: Step): void => {
    for (const item of items) {
      const within = both(reach.withinDates(item), step.present);
      const before = found.everWithin.get(item.id) as Bits;
      if (!isSubset(within, before)) found.everWithin.set(item.id, either(before, within));
      const leak = both(reach.leak(item), step.present);
      const spans = found.spans.get(item.id);
      const last = spans?.at(-1);
      if (isEmpty(leak)) {
        if (last && last.until === null) last.until = step.t;
      } else if (last && last.until === null) last.bits = either(last.bits, leak);
      else found.spans.set(item.id, [...(spans ?? []), { from: step.t, until: null, bits: leak }]);
    }
    for (const item of conditional) recordParts(reach, step, item);
  };
  const recordParts = (reach: Reach, step: Step, item: Item): void => {
    let left = both(reach.meant(item), step.present);
    for (const { targets, condition } of [...item.variants, { targets: null, condition: item.condition }]) {
      const theirs = targets
        ? targets.reduce((bits, one) => either(bits, both(left, reach.members(one))), nobody)
        : left;
      left = without(left, theirs);
      if (!condition || isEmpty(theirs)) continue;
      verdictsOf(
        condition,
        sets,
        (leaf) => reach.verdicts(leaf),
        (part, { may, mayNot }) => {
          const ofItem = parts.get(item.id) ?? new Map<Condition, Part>();
          parts.set(item.id, ofItem);
          const blank = { item, condition: part, asked: nobody, mayEver: nobody, mayNotEver: nobody };
          const known = ofItem.get(part) ?? blank;
          ofItem.set(part, {
            ...known,
            asked: either(known.asked, theirs),
            mayEver: either(known.mayEver, both(theirs, may)),
            mayNotEver: either(known.mayNotEver, both(theirs, mayNot)),
          });
        },
      );
    }
  };

  for (const step of stepsOf(plan, students)) {
    for (;;) {
      const reach = reachIn(step);
      let grew = false;
      for (const item of items) {
        const before = found.ever.get(item.id) as Bits;
        const now = both(reach.sees(item), step.present);
        if (isSubset(now, before)) continue;
        found.ever.set(item.id, either(before, now));
        // What somebody can open they may do, and what asks for it may hold from then on, at this moment too.
        grew ||= byItem.has(item.id);
      }
      for (const item of handedIn) {
        const before = found.everHandedIn.get(item.id) ?? nobody;
        const now = both(reach.takesHandIn(item), step.present);
        if (isSubset(now, before)) continue;
        found.everHandedIn.set(item.id, either(before, now));
        grew = true;
      }
      if (grew) continue;
      record(reach, step);
      break;
    }
  }
  found.parts = [...parts.values()].flatMap((ofItem) => [...ofItem.values()]);
  return found;
}
