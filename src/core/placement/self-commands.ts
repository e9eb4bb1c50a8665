/** Commands that open a layer for self-placement and give codes. Source: semantics.md section 3. */

import { z } from "zod";
import { defineCommand, put, refuse } from "../plan/command.ts";
import { withCourse } from "../plan/tables.ts";
import { Course, Group, Id, SelfPlacement } from "../plan/types.ts";
import { foldCode } from "../text/codes.ts";
import { plural } from "../text/plural.ts";
import { codesOf } from "./self-placement.ts";

export const selfPlacementCommands = [
  defineCommand(
    "layer.selfPlacement",
    { layerId: Id, selfPlacement: SelfPlacement.nullable() },
    {
      apply(plan, { layerId, selfPlacement }) {
        const layer = plan.layers[layerId];
        if (!layer || layer.archivedAt !== null) return refuse("layer.gone", "The layer is no longer there.");
        if (selfPlacement && layer.private)
          return refuse("self.private", "A private layer cannot be open: students would learn that it exists.");
        if (selfPlacement?.opens && selfPlacement.closes && selfPlacement.opens >= selfPlacement.closes)
          return refuse("self.window", "It would close before it opens. Choose a later moment to close.");
        return put(plan, "layers", [{ ...layer, selfPlacement }]);
      },
      describe: (plan, { layerId, selfPlacement }) => {
        const name = plan.layers[layerId]?.name ?? "a removed layer";
        return selfPlacement === null
          ? `Students no longer place themselves in ${name}`
          : `Students place themselves in ${name} by ${selfPlacement.by}`;
      },
    },
  ),
  defineCommand(
    "group.codes",
    {
      layerId: Id,
      codes: z
        .array(z.object({ groupId: Id, code: Group.shape.code }))
        .min(1)
        .max(5000),
    },
    {
      apply(plan, { layerId, codes }) {
        if (plan.layers[layerId]?.private)
          return refuse(
            "self.private",
            "Groups of a private layer have no codes: students would learn that they exist.",
          );
        const taken = codesOf(plan, new Set(codes.map(({ groupId }) => groupId)));
        for (const { groupId, code } of codes) {
          if (plan.groups[groupId]?.layerId !== layerId) return refuse("group.gone", "A group is no longer there.");
          if (code === null) continue;
          const holder = taken.get(foldCode(code));
          if (holder !== undefined)
            return refuse("group.code", `The code ${code} belongs to ${holder} already. Choose another pattern.`);
          taken.set(foldCode(code), plan.groups[groupId]?.name ?? "");
        }
        const changed = codes.map(({ groupId, code }) => ({ ...(plan.groups[groupId] as Group), code }));
        return put(plan, "groups", changed);
      },
      describe: (plan, { layerId, codes }) =>
        `${codes.some(({ code }) => code) ? "Codes for" : "No codes for"} ${plural(codes.length, "group")} of ${plan.layers[layerId]?.name ?? ""}`,
    },
  ),
  defineCommand(
    "course.visitorCode",
    { code: Course.shape.visitorCode },
    {
      apply(plan, { code }) {
        const holder = code === null ? undefined : codesOf(withCourse(plan, { visitorCode: null })).get(foldCode(code));
        if (holder !== undefined)
          return refuse("group.code", `The code ${code} belongs to ${holder} already. Choose another one.`);
        return withCourse(plan, { visitorCode: code });
      },
      describe: (_plan, { code }) => (code === null ? "No code for visitors" : `${code} is the code for visitors`),
    },
  ),
] as const;
