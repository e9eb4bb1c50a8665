import type { Group } from "../../core/plan/types.ts";

/** The codes of sections that are said beside groups: where a group's stripe bears the code it is said once. */
export const codesBeside = (codes: readonly string[], groups: readonly Pick<Group, "stripe">[]): string[] =>
  codes.filter((code) => !groups.some(({ stripe }) => stripe.mark === code));
