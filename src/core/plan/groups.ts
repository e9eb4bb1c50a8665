/** Layers, groups, sets and placements, as rows of a plan. Source: semantics.md section 3. */

import { z } from "zod";
import { Id, MeetingDays, Title, Wall } from "./basics.ts";
import { Forming } from "./forming.ts";
import { frozen } from "./frozen.ts";

/** One line of the ordered list by which a layer follows sections. Source: semantics.md section 3. */
export const PlacementRule = z.object({
  sectionIds: z.array(Id),
  attribute: z
    .object({
      column: z.string(),
      test: z.enum(["is", "starts with", "is between"]),
      values: z.array(z.string()).min(1).max(2),
    })
    .nullable(),
  groupId: Id,
});

/** How students place themselves. Source: semantics.md section 3. */
export const SelfPlacement = z.object({
  /** From this moment, before that one; null: at once, without end. */
  opens: Wall.nullable(),
  closes: Wall.nullable(),
  by: z.enum(["choice", "code"]),
  /** What students are told, as HTML of a few elements. */
  help: z.string().max(20_000),
  /** Whether students see the names of a group's members before they choose. */
  showNames: z.boolean(),
});

export const Layer = z.object({
  id: Id,
  position: z.number(),
  name: Title,
  rule: z.enum(["exactly one", "at most one", "any number"]),
  private: z.boolean(),
  /** Null where the layer does not follow sections. */
  following: z.array(PlacementRule).nullable(),
  /** Sets of people of whom no two belong in one group. */
  keepApart: z.array(z.array(Id)),
  /** What its groups were formed from, to form again and to place late arrivals; null where they were not. */
  forming: Forming.nullable(),
  /** How students place themselves; null where they do not. */
  selfPlacement: SelfPlacement.nullable(),
  /** When it was put away: its groups are then kept for what was, and offered nowhere. */
  archivedAt: z.number().nullable(),
});

/** Colour and pattern are numbers of the kit's twelve colours and eight patterns. */
export const Stripe = z.object({
  colour: z.number().int().min(0).max(11),
  pattern: z.number().int().min(0).max(7),
  mark: z.string().trim().min(1).max(3),
});

/** What stands on a group's own page. Source: semantics.md section 4, who sees whom. */
export const PagePart = z.enum(["members", "items", "thread", "files", "note"]);
/** What its members may do there themselves: live at once. Source: semantics.md section 8. */
export const MemberPermission = z.enum([
  "post",
  "note",
  "file",
  "rename",
  "notices",
  "pages",
  "threads",
  "write",
  "meeting link",
]);
/** The page that the members of a group meet on. */
export const GroupPage = z.object({ has: z.array(PagePart).max(5), may: z.array(MemberPermission).max(9) });

export const Group = z.object({
  id: Id,
  layerId: Id,
  position: z.number(),
  name: Title,
  label: Title,
  stripe: Stripe,
  min: z.number().int().min(0).nullable(),
  max: z.number().int().min(1).nullable(),
  description: z.string().max(2000),
  /** Members who may hand in for the group. */
  leads: z.array(Id).max(50),
  /** The group of another layer whose people it was formed from; null: of everyone. */
  scopeGroupId: Id.nullable(),
  /** What a student types to be placed here; unique in the course, compared without case. */
  code: z.string().trim().min(3).max(40).nullable(),
  /** When it meets, where the registrar did not divide its people into sections: as a section's days. */
  pattern: MeetingDays.pattern,
  noClassDays: MeetingDays.noClassDays.default([]),
  moved: MeetingDays.moved.default([]),
  added: MeetingDays.added.default([]),
  /** When it was put away; from then on nobody is in it. */
  archivedAt: z.number().nullable(),
  /** Null where it has no page; groups of a private layer never have one. */
  page: GroupPage.nullable(),
});

/** Groups of any layers under one name, which stands wherever a group can. Source: semantics.md section 3. */
export const NamedSet = z.object({ id: Id, name: Title, groupIds: z.array(Id).max(1000) });

/** A group before anything is said of it. */
export const blankGroup = frozen({
  min: null,
  max: null,
  description: "",
  leads: [],
  scopeGroupId: null,
  code: null,
  pattern: [],
  noClassDays: [],
  moved: [],
  added: [],
  archivedAt: null,
  page: null,
});
/** A layer before anything is said of it. */
export const blankLayer = frozen({
  private: false,
  following: null,
  keepApart: [],
  forming: null,
  selfPlacement: null,
  archivedAt: null,
});

export const Placement = z.object({
  id: Id,
  groupId: Id,
  personId: Id,
  since: z.number(),
  until: z.number().nullable(),
  held: z.boolean(),
});

export type SelfPlacement = z.infer<typeof SelfPlacement>;
export type PlacementRule = z.infer<typeof PlacementRule>;
export type Layer = z.infer<typeof Layer>;
export type Stripe = z.infer<typeof Stripe>;
export type PagePart = z.infer<typeof PagePart>;
export type MemberPermission = z.infer<typeof MemberPermission>;
export type GroupPage = z.infer<typeof GroupPage>;
export type Group = z.infer<typeof Group>;
export type NamedSet = z.infer<typeof NamedSet>;
export type Placement = z.infer<typeof Placement>;

/** Whether a group has meetings of its own. */
export const meetsItself = ({ pattern, added }: Pick<Group, "pattern" | "added">): boolean =>
  pattern.length > 0 || added.length > 0;
