/** What is asked of forming groups, as it is kept with the layer. Source: semantics.md section 3. */
import { z } from "zod";
import { Id } from "./basics.ts";

const People = z.array(Id).min(2).max(500);
const Weight = z.number().min(0.1).max(100);

/** What is minimised, with its weight. A column is a roster attribute by its name. */
export const SoftWish = z.discriminatedUnion("kind", [
  /** Means alike. */
  z.object({ kind: z.literal("spread number"), column: z.string().max(100), weight: Weight }),
  /** Counts of each value alike. */
  z.object({ kind: z.literal("spread category"), column: z.string().max(100), weight: Weight }),
  /** Levels: who is alike comes together. */
  z.object({ kind: z.literal("gather"), column: z.string().max(100), weight: Weight }),
  /** Nobody meets a partner again whom they had in one of these layers. */
  z.object({ kind: z.literal("new partners"), layerIds: z.array(Id).min(1).max(50), weight: Weight }),
]);

export const Forming = z.object({
  /** Each group of this layer apart, so that no formed group mixes them; null: everyone together. */
  scopeLayerId: Id.nullable(),
  /** A number of groups in each scope, or about so many people in each. */
  into: z.object({ by: z.enum(["groups", "size"]), number: z.number().int().min(1).max(5000) }),
  /** Sizes that are allowed; null: within a scope they differ by at most one. */
  limits: z.object({ min: z.number().int().min(0).max(5000), max: z.number().int().min(1).max(5000) }).nullable(),
  apart: z.array(People).max(5000),
  together: z.array(People).max(5000),
  soft: z.array(SoftWish).max(20),
  leads: z.enum(["none", "random", "new"]),
  names: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("pattern"), pattern: z.string().trim().min(1).max(150) }),
    z.object({ kind: z.literal("topics"), topics: z.array(z.string().trim().min(1).max(150)).min(1).max(5000) }),
  ]),
});

export type SoftWish = z.infer<typeof SoftWish>;
export type Forming = z.infer<typeof Forming>;

/** What can never be broken, one thing at a time, so that a contradiction can be named. */
export type HardWish =
  | { kind: "apart" | "together"; people: string[] }
  | { kind: "held"; person: string; bin: number }
  | { kind: "sizes" }
  | { kind: "scope" };

export const plainForming: Forming = {
  scopeLayerId: null,
  into: { by: "size", number: 4 },
  limits: null,
  apart: [],
  together: [],
  soft: [],
  leads: "none",
  names: { kind: "pattern", pattern: "{scope} team {n}" },
};
