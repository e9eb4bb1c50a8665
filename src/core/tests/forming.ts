/** Small questions to the solver, for tests. */
import { type Formed, formNow, type Unformed } from "../placement/forming/form.ts";
import type { FormingInput } from "../placement/forming/input.ts";
import { type Forming, plainForming } from "../plan/forming.ts";

export const ids = (count: number, from = 0) => Array.from({ length: count }, (_, at) => `p${at + from}`);
export function inputOf(forming: Partial<Forming>, scopes: string[][], rest: Partial<FormingInput> = {}): FormingInput {
  const whole = { ...plainForming, ...forming };
  return {
    forming: whole,
    scopes: scopes.map((people, at) => ({ groupId: `s${at}`, name: `S${at}`, people, existing: [], held: [] })),
    values: {},
    partners: whole.soft.map(() => []),
    led: {},
    leftOut: [],
    ...rest,
  };
}
export const groupsOf = (formed: Formed | Unformed) =>
  "unformed" in formed ? [] : formed.scopes.map(({ groups }) => groups.map(({ people }) => people));
export const formedOf = (input: FormingInput, seed = 1): Formed => {
  const made = formNow(input, seed);
  if ("unformed" in made) throw new Error(`not formed: ${JSON.stringify(made)}`);
  return made;
};
