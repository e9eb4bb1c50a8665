/** Whom conditions hold for at a moment, all students at once. Source: semantics.md section 5. */
import { instantOf } from "../clock/local-time.ts";
import type { Progress } from "../plan/progress.ts";
import type { Condition, Plan, Target } from "../plan/types.ts";
import { type Algebra, type Bits, clearBit, emptyBits, setBit } from "../sets/bits.ts";
import { type Calendar, instantByCalendar, isAnchor } from "../timing/anchors.ts";
import { progressHolders } from "./conditions.ts";
import { holdsOf, type Leaf, type Verdicts, verdictsOf } from "./judging.ts";
import type { MembershipSets } from "./membership-sets.ts";
import type { ProgressLeaf } from "./progress-leaf.ts";

interface ConditionWorld {
  plan: Plan;
  progress: Progress;
  t: number;
  membershipSets: MembershipSets;
  sets: Algebra;
  /** The students that any of some targets names. */
  anyOf(targets: Target[]): Bits;
  /** Students by whose meetings they go by. */
  calendars(): { calendar: Calendar; bits: Bits }[];
  /** For whom a leaf about progress may hold, and for whom it may not, instead of what people did. */
  mayHold: ((leaf: ProgressLeaf) => Verdicts) | undefined;
}

/** `holds`: whom a condition holds for. `verdicts`: for whom it may hold, and for whom it may not. */
export function conditionBits({ plan, progress, t, membershipSets, sets, anyOf, calendars, mayHold }: ConditionWorld) {
  const { everyone, nobody, either, without } = sets;
  const { timeZone } = plan.course;
  const momentHolds = (condition: Extract<Condition, { moment: unknown }>): Bits => {
    const { moment, kind } = condition;
    const passes = (at: number | null) => at !== null && (kind === "from") === t >= at;
    if (!isAnchor(moment)) return passes(instantOf(moment, timeZone)) ? everyone : nobody;
    return calendars()
      .filter(({ calendar }) => passes(instantByCalendar(moment, calendar, timeZone)))
      .reduce((bits, { bits: theirs }) => either(bits, theirs), nobody);
  };
  const done = (leaf: ProgressLeaf): Bits => {
    const bits = emptyBits(membershipSets.students.length);
    progressHolders(leaf, { plan, progress, t, membershipSets }, (index, yes) =>
      (yes ? setBit : clearBit)(bits, index),
    );
    return bits;
  };
  const leafHolds = (leaf: Leaf): Bits =>
    "moment" in leaf ? momentHolds(leaf) : leaf.kind === "in" ? anyOf(leaf.targets) : done(leaf);
  const verdicts = (condition: Condition): Verdicts =>
    verdictsOf(condition, sets, (leaf) => {
      if (mayHold && "itemId" in leaf) return mayHold(leaf);
      const may = leafHolds(leaf);
      return { may, mayNot: without(everyone, may) };
    });
  const holds = (condition: Condition | null): Bits =>
    !condition ? everyone : mayHold ? verdicts(condition).may : holdsOf(condition, sets, leafHolds);

  return { verdicts, holds };
}
