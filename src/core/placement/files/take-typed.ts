/** Groups that were typed, as the one change that makes, fills and names the leads of them. Source: semantics.md section 3. */
import type { NewCommand } from "../../commands.ts";
import type { TypedGroup } from "../../line/typed-groups.ts";
import type { Layer } from "../../plan/types.ts";

/** Who is listed in several groups of a layer where that cannot be. */
export function listedTwice(rule: Layer["rule"], groups: readonly TypedGroup[]): string[] {
  if (rule === "any number") return [];
  const [seen, twice] = [new Set<string>(), new Set<string>()];
  for (const id of groups.flatMap(({ personIds }) => personIds)) (seen.has(id) ? twice : seen).add(id);
  return [...twice];
}

/**
 * The change for groups of a layer, which is made with its rule where there is none of its name. Whoever is listed in
 * several and may be in one alone is placed in the first. `says`: where the groups come from, for the tray.
 */
export function takeTyped(
  { name: layer, rule }: Pick<Layer, "name" | "rule">,
  typed: readonly TypedGroup[],
  says: string,
): NewCommand {
  const [twice, placed] = [new Set(listedTwice(rule, typed)), new Set<string>()];
  const into = typed.flatMap(({ name: group, personIds }) =>
    personIds.flatMap((personId) => {
      if (twice.has(personId) && placed.has(personId)) return [];
      placed.add(personId);
      return [{ layer, group, personId }];
    }),
  );
  const groups = typed.map(({ name, leads, pattern }) => ({
    layer,
    name,
    label: null,
    leads: leads.length > 0 ? leads : null,
    ...(pattern.length > 0 ? { pattern } : {}),
  }));
  return { kind: "layer.takeFile", file: says, newLayerRule: rule, groups, into, ends: [] };
}
