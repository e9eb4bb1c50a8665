/**
 * Mends: changes that remove a finding, each tried on the plan before it is offered. What is offered removes its finding
 * and adds no leak. Source: semantics.md section 4.
 */
import { apply, type Command, type NewCommand } from "../../plan/apply.ts";
import { isRefusal } from "../../plan/command.ts";
import { same } from "../../plan/difference.ts";
import { foldersAbove, lookup } from "../../plan/lookup.ts";
import type { Progress } from "../../plan/progress.ts";
import type { Audience, Condition, Item, Plan, Target } from "../../plan/types.ts";
import { andNot, countBits, isEmpty, listBits } from "../bits.ts";
import { type Reach, reachAt } from "../reach.ts";
import { copiesIn, layerOfCopies } from "./asks.ts";
import { findingsOf } from "./audit.ts";
import { pathOf } from "./conditions.ts";
import { type Finding, type FindingKind, studentsSay } from "./finding.ts";
import { holdsPhrase, labelsOf, privateNames } from "./labels.ts";
import { sweep } from "./sweep.ts";

export interface Mend {
  says: string;
  /** What it does to people: "39 students cease to reach it; nobody it is meant for loses it." */
  effect: string;
  commands: NewCommand[];
}

interface Case {
  reach: Reach;
  plan: Plan;
  finding: Finding;
  item: Item | null;
}
type Candidate = Pick<Mend, "says" | "commands"> & {
  /** Offered only where no part of it alone will do. */
  otherwise?: boolean;
};

const change = (item: Item, fields: Extract<NewCommand, { kind: "item.change" }>["fields"]): NewCommand => ({
  kind: "item.change",
  itemId: item.id,
  fields,
});
const persons = (ids: string[]): Target[] => ids.map((id) => ({ kind: "person", id }));

function ofLeak({ plan, item }: Case): Candidate[] {
  if (!item) return [];
  const above = foldersAbove(plan, item);
  const doors = above.filter((folder) => !folder.seals);
  const narrow = above.find(({ audience }) => audience.to !== "everyone" || audience.minus.length > 0);
  const found: Candidate[] = doors.map((folder) => ({
    says: `Seal the folder ${folder.title}`,
    commands: [change(folder, { seals: true })],
  }));
  if (doors.length > 1)
    found.push({
      says: "Seal every folder above it",
      otherwise: true,
      commands: doors.map((folder) => change(folder, { seals: true })),
    });
  if (narrow)
    found.push({
      says: `Narrow ${item.title} to whom ${narrow.title} is for`,
      commands: [change(item, { audience: narrowed(item.audience, narrow.audience) })],
    });
  const { indexes } = plan.course;
  const words = {
    discussions: "all discussions",
    files: "all files",
    work: "the list of work",
    calendar: "the calendar",
  };
  for (const [key, name] of Object.entries(words) as [keyof typeof words, string][])
    if (indexes[key])
      found.push({
        says: `Switch off the index of ${name}`,
        commands: [{ kind: "course.indexes", indexes: { ...indexes, [key]: false } }],
      });
  for (const entrance of lookup(plan).entrancesOfItem.get(item.id) ?? []) {
    const from = entrance.folderId ? (plan.items[entrance.folderId]?.title ?? "a folder") : "the top of the outline";
    found.push({
      says: `Remove its entrance in ${from}`,
      commands: [{ kind: "entrance.remove", entranceId: entrance.id }],
    });
  }
  return found;
}

/** An item's audience within its folder's: the folder's, minus whomever either leaves out. */
const narrowed = (own: Audience, folder: Audience): Audience => ({
  to: own.to === "everyone" ? folder.to : own.to,
  minus: [
    ...own.minus,
    ...folder.minus.filter((one) => !own.minus.some(({ kind, id }) => kind === one.kind && id === one.id)),
  ],
});

function ofStranded({ plan, reach, item, finding }: Case): Candidate[] {
  if (!item) return [];
  const found: Candidate[] = [];
  if (item.condition || item.variants.length > 0)
    found.push({ says: "Remove its release condition", commands: [change(item, { condition: null, variants: [] })] });
  if (item.dates.opens || item.dates.closes || !item.readableAfterClose)
    found.push({
      says: "Let them open it at any time",
      commands: finding.personIds.slice(0, 500).map((id) => ({
        kind: "override.set",
        itemIds: [item.id],
        target: { kind: "person", id },
        dates: { opens: "none", closes: "none" },
      })),
    });
  for (const folder of foldersAbove(plan, item).filter((one) => one.condition || one.variants.length > 0))
    found.push({
      says: `Remove the release condition of its folder ${folder.title}`,
      commands: [change(folder, { condition: null, variants: [] })],
    });
  // Those who can reach it keep it, and for the others it is no longer meant.
  const ever = sweep(plan).ever.get(item.id);
  const groups = lookup(plan).layers.flatMap((layer) => lookup(plan).groupsOfLayer.get(layer.id) ?? []);
  const stranded = new Set(finding.personIds);
  const whole = groups.filter(({ id }) => {
    const members = listBits(reach.members({ kind: "group", id }));
    return members.length > 0 && members.every((index) => !stranded.has(reach.students[index] as string));
  });
  if (ever && !isEmpty(ever) && item.audience.to === "everyone") {
    const reached = countBits(reach.meant(item)) - finding.personIds.length;
    const one = whole.find(({ id }) => countBits(reach.members({ kind: "group", id })) === reached);
    if (one)
      found.push({
        says: `Make it for ${one.name} only`,
        commands: [change(item, { audience: { to: [{ kind: "group", id: one.id }], minus: item.audience.minus } })],
      });
  }
  if (finding.personIds.length <= 100)
    found.push({
      says: `Leave ${finding.personIds.length === 1 ? "that student" : "those students"} out of its audience`,
      commands: [
        change(item, {
          audience: { ...item.audience, minus: [...item.audience.minus, ...persons(finding.personIds)] },
        }),
      ],
    });
  return found;
}

/** The condition without the part at a path; null where nothing of it is left. */
function withoutPart(condition: Condition, part: Condition): Condition | null {
  if (condition === part) return null;
  if (!("of" in condition)) return condition;
  const of = condition.of.map((one) => withoutPart(one, part)).filter((one) => one !== null);
  return of.length === 0 ? null : { ...condition, of };
}

function ofBranch({ plan, item, finding }: Case): Candidate[] {
  if (!item) return [];
  const path = finding.key.slice(finding.key.lastIndexOf("/") + 1);
  const part = sweep(plan).parts.find(
    (one) => one.item.id === item.id && pathOf(item, one.condition) === path,
  )?.condition;
  if (!part) return [];
  const shorter = change(item, {
    condition: item.condition && withoutPart(item.condition, part),
    variants: item.variants.map((variant) => ({
      ...variant,
      condition: variant.condition && withoutPart(variant.condition, part),
    })),
  });
  return [{ says: "Remove this part of the condition", commands: [shorter] }];
}

function ofSightline({ plan, item, finding }: Case): Candidate[] {
  const [, layerId = ""] = finding.key.split("/");
  const layer = plan.layers[layerId];
  if (!layer) return [];
  if (item?.split)
    return [
      { says: "Seal its threads", commands: [change(item, { split: { ...item.split, between: "sealed" } })] },
      {
        says: `Split it along ${layer.name}, sealed`,
        commands: [change(item, { split: { layerId, between: "sealed" } })],
      },
    ];
  if (item)
    return [
      {
        says: `Split it along ${layer.name}, sealed`,
        commands: [change(item, { split: { layerId, between: "sealed" } })],
      },
    ];
  if (finding.key.endsWith("class list"))
    return [
      {
        says: `Show on the class list only those who share a group of ${layer.name}`,
        commands: [{ kind: "course.classList", classList: { to: "layer", layerId } }],
      },
      { says: "Show nobody on the class list", commands: [{ kind: "course.classList", classList: { to: "nobody" } }] },
    ];
  const named = plan.layers[finding.key.split("/").at(-1) ?? ""];
  if (!named?.selfPlacement) return [];
  return [
    {
      says: `Hide the names in ${named.name}`,
      commands: [
        {
          kind: "layer.selfPlacement",
          layerId: named.id,
          selfPlacement: { ...named.selfPlacement, showNames: false },
        },
      ],
    },
  ];
}

/** A label without the words that tell, where something is left of it. */
function ofLabel({ plan, finding }: Case): Candidate[] {
  const key = finding.key.slice(finding.key.indexOf("/") + 1);
  const label = labelsOf(plan).find((one) => one.key === key);
  if (!label) return [];
  const words = [...privateNames(plan), ...plan.course.tellingWords].filter((word) => holdsPhrase(label.text, word));
  let text = label.text;
  for (const word of words.sort((a, b) => b.length - a.length)) {
    const at = text.toLowerCase().indexOf(word.toLowerCase());
    if (at >= 0) text = text.slice(0, at) + text.slice(at + word.length);
  }
  const left = text.replace(/\s+/g, " ").replace(/^[\s,:;-]+|[\s,:;-]+$/g, "");
  if (left.length < 2) return [];
  const title = left[0]?.toUpperCase() + left.slice(1);
  const says = `Call it "${title}"`;
  if (label.item) return [{ says, commands: [change(label.item, { title })] }];
  if (label.groupId)
    return [{ says, commands: [{ kind: "group.change", groupId: label.groupId, fields: { label: title } }] }];
  return [];
}

function ofAsking({ reach, plan, item, finding }: Case): Candidate[] {
  if (!item) return [];
  if (finding.kind === "one group") {
    const { layers, groupsOfLayer } = lookup(plan);
    const groups = layers.filter((layer) => !layer.private).flatMap((layer) => groupsOfLayer.get(layer.id) ?? []);
    const group = groups.find(({ name, label }) => holdsPhrase(item.title, name) || holdsPhrase(item.title, label));
    const section = Object.values(plan.sections).find((one) =>
      [one.code, one.title, one.studentTitle].some((name) => holdsPhrase(item.title, name)),
    );
    const target: Target | null = group
      ? { kind: "group", id: group.id }
      : section
        ? { kind: "section", id: section.id }
        : null;
    const name = group?.name ?? section?.code ?? "";
    return target
      ? [{ says: `Make it for ${name} only`, commands: [change(item, { audience: { to: [target], minus: [] } })] }]
      : [];
  }
  if (finding.kind === "neighbours") {
    const beside = (lookup(plan).children.get(item.parentId) ?? []).filter(({ id }) => id !== item.id);
    const targets = new Map(
      beside
        .flatMap(({ audience }) => (audience.to === "everyone" ? [] : audience.to))
        .map((one) => [`${one.kind}/${one.id}`, one]),
    );
    return [
      {
        says: "Make it for those whom its neighbours are for",
        commands: [change(item, { audience: { to: [...targets.values()], minus: [] } })],
      },
    ];
  }
  const copies = copiesIn(reach).find((items) => items[0]?.id === item.id);
  const layer = copies && layerOfCopies(reach, copies);
  const left = layer?.left ?? [];
  if (left.length === 0) return [];
  return [
    {
      says: `Make ${item.title} for ${left.map(({ name }) => name).join(" and ")} too`,
      commands: [
        change(item, {
          audience: {
            ...item.audience,
            to: [
              ...(item.audience.to === "everyone" ? [] : item.audience.to),
              ...left.map(({ id }) => ({ kind: "group" as const, id })),
            ],
          },
        }),
      ],
    },
  ];
}

function candidatesFor(one: Case): Candidate[] {
  const { item } = one;
  const unpublish: Candidate[] = item ? [{ says: "Unpublish it", commands: [change(item, { published: false })] }] : [];
  const noCondition: Candidate[] = item
    ? [
        {
          says: `Remove the release condition of ${item.title}`,
          commands: [change(item, { condition: null, variants: [] })],
        },
      ]
    : [];
  switch (one.finding.kind) {
    case "leak":
      return ofLeak(one);
    case "stranded":
      return ofStranded(one);
    case "nobody":
      return [
        ...(item
          ? [{ says: "Make it for everyone", commands: [change(item, { audience: { to: "everyone", minus: [] } })] }]
          : []),
        ...unpublish,
      ];
    case "outside":
      return item ? [{ says: "Split it no longer", commands: [change(item, { split: null })] }] : [];
    case "circle":
    case "unreachable":
      return noCondition;
    case "no window":
      return item
        ? [
            { says: "Keep it readable after it closes", commands: [change(item, { readableAfterClose: true })] },
            {
              says: "Let it open and close at no given time",
              commands: [{ kind: "dates.set", itemIds: [item.id], dates: { opens: null, closes: null } }],
            },
          ]
        : [];
    case "never":
    case "always":
      return ofBranch(one);
    case "telling":
    case "private name":
      return ofLabel(one);
    case "sightline":
      return ofSightline(one);
    case "left out":
    case "one group":
    case "neighbours":
      return ofAsking(one);
    case "dates":
      return [];
  }
}

/** A name space for rows that a mend would make: they are only tried. */
const tried = "3b0f0f6e-6f5e-4d0c-9f57-0d9a2c6f7a10";

/** The plan after some commands, or null where one is refused. */
export function tryCommands(plan: Plan, commands: NewCommand[], now: number): Plan | null {
  let next = plan;
  for (const [at, command] of commands.entries()) {
    const after = apply(
      next,
      { ...command, id: `${tried.slice(0, -2)}${String(at % 100).padStart(2, "0")}` } as Command,
      { now },
    );
    if (isRefusal(after)) return null;
    next = after;
  }
  return next;
}

/** What a mend does to people at the moment of the reach, in a sentence. */
function effectOf(before: Reach, after: Reach, item: Item | null): string {
  const parts: string[] = [];
  let [others, gained] = [0, 0];
  for (const one of Object.values(before.plan.items)) {
    const next = after.plan.items[one.id];
    if (!next) continue;
    const lost = andNot(before.sees(one), after.sees(next));
    gained += countBits(andNot(after.sees(next), before.sees(one)));
    if (isEmpty(lost)) continue;
    const meant = countBits(andNot(lost, andNot(lost, after.meant(next))));
    if (one.id === item?.id) {
      parts.push(`${studentsSay(countBits(lost))} cease to reach it`);
      parts.push(meant > 0 ? `${studentsSay(meant)} of them it is meant for` : "nobody it is meant for loses it");
    } else others++;
  }
  if (others > 0)
    parts.push(`${others} other ${others === 1 ? "item ceases" : "items cease"} to be reached by somebody`);
  if (gained > 0) parts.push(`${gained.toLocaleString("en-GB")} new crossings of a student and an item`);
  return parts.length > 0 ? `${parts.join("; ")}.` : "At this moment nobody's reach changes.";
}

/** The mends of a finding: each was tried, removes it, and lets nobody reach what is not meant for them. */
export function mendsOf(plan: Plan, progress: Progress, t: number, finding: Finding, layerId?: string | null): Mend[] {
  const reach = reachAt(plan, progress, t);
  const item = finding.itemId ? (plan.items[finding.itemId] ?? null) : null;
  // Only what a mend could take away, and the leaks it could make, are looked for again.
  const kinds = new Set<FindingKind>([finding.kind, "leak"]);
  const leaksBefore = leaking(findingsOf(reach, new Set<FindingKind>(["leak"])));
  const found: Mend[] = [];
  for (const { says, commands, otherwise } of candidatesFor({ reach, plan, finding, item })) {
    // What does more than another that was found is not offered beside it.
    if (otherwise && found.some(({ commands: few }) => commands.some((one) => same(one, few[0])))) continue;
    const next = tryCommands(plan, commands, t);
    if (!next || next === plan) continue;
    const after = reachAt(next, progress, t);
    const findings = findingsOf(after, kinds, layerId ?? undefined);
    if (findings.some(({ key }) => key === finding.key)) continue;
    const leaksAfter = leaking(findings);
    if ([...leaksAfter].some((pair) => !leaksBefore.has(pair))) continue;
    found.push({ says, commands, effect: effectOf(reach, after, item) });
  }
  return found;
}

/** Who leaks where, now or to come. */
const leaking = (findings: Finding[]): Set<string> =>
  new Set(
    findings
      .filter(({ kind }) => kind === "leak")
      .flatMap(({ key, personIds }) => personIds.map((id) => `${key} ${id}`)),
  );
