/**
 * What is filled in of an item that is made or changed, and the changes that this means. It stays while one is at another
 * station, until it is drafted or left.
 */
import { useMemo, useRef, useState } from "react";
import { v7 } from "uuid";
import type { NewCommand } from "../../../../core/commands.ts";
import type { NewItem } from "../../../../core/line/new-item.ts";
import { same } from "../../../../core/plan/difference.ts";
import { type Quiz, quizFault } from "../../../../core/plan/questions.ts";
import {
  blankItem,
  type DateField,
  type Item,
  type ItemKind,
  type Plan,
  type Target,
} from "../../../../core/plan/types.ts";
import { itemsForEach, patternMistake, usualPattern } from "../../../../core/reach/outline/for-each.ts";
import { countBits, countShared } from "../../../../core/sets/bits.ts";
import { useKept, useParts, useReach, useWorkbench } from "../../../workbench/context.tsx";
import type { Store } from "../../../workbench/store.ts";
import { isForNobody } from "./AudienceChooser.tsx";
import { typedDates } from "./ItemDates.tsx";
import { changesOf, type ItemFields, newItem } from "./item-commands.ts";

/** Which item is made or changed. */
export interface Written {
  /** Null for a new item. */
  itemId: string | null;
  parentId: string | null;
  /** Whether it was asked for in that folder, and not only while the folder was selected. */
  isInIt?: boolean;
}
interface Filled {
  fields: ItemFields;
  /** Where somebody put it; undefined until then. */
  folder: string | null | undefined;
  /** The layer for each group of which one is made; null for one alone. */
  eachOf: string | null;
  points: string;
  typed: Partial<Record<DateField, string>>;
}

const keptAs = (itemId: string | null): string => `item ${itemId ?? "new"}`;
/** Whether somebody filled in anything that is not drafted yet. */
export const isFilledIn = (store: Store, { itemId }: Written): boolean => Boolean(store.kept.get(keptAs(itemId)));

export function useItemForm(written: Written) {
  const { t } = useWorkbench();
  const state = useParts("drafted");
  // What is written is tried on the plan meanwhile: the form goes on from the plan as it is drafted.
  const { plan } = state.drafted;
  const existing = written.itemId ? plan.items[written.itemId] : undefined;
  const { filled, keep, own } = useFilled(written, existing);
  const { fields, eachOf, points, typed } = filled;
  const usual = useUsualFolder(written.parentId, fields.audience);
  const folder = filled.folder === undefined ? usual : filled.folder;
  const dates = typedDates({ kind: fields.kind, own: fields.dates, typed, course: plan.course, t });
  const number = points.trim() === "" ? null : Number(points);
  const isPointsWrong = number !== null && !(number > 0 && number <= 100_000);
  const mistake = eachOf === null ? null : patternMistake(plan, eachOf, fields.title);
  const isReady =
    fields.title.trim() !== "" &&
    !isPointsWrong &&
    !dates.isWrong &&
    mistake === null &&
    (eachOf !== null || !isForNobody(fields.audience)) &&
    (fields.kind !== "file" || fields.file !== null) &&
    (fields.kind !== "quiz" || fields.quiz === null || quizFault(fields.quiz) === null);
  const whole = { ...fields, points: number, dates: dates.dates };
  return {
    filled,
    existing,
    folder,
    dates,
    isPointsWrong,
    mistake,
    isReady,
    ...useChanges({ plan, existing, whole, folder, eachOf, isReady }),
    ...settersOf({ plan, filled, keep, own }),
  };
}
export type ItemForm = ReturnType<typeof useItemForm>;

/** What is filled in: as the item is, or a new one begins, until somebody changes it. */
function useFilled({ itemId, parentId, isInIt = false }: Written, existing: Item | undefined) {
  const own = useOwn();
  const [start] = useState(
    (): Filled => ({
      fields: { ...blankItem, ...own, kind: "folder" as ItemKind, title: "", ...existing },
      folder: existing ? existing.parentId : isInIt ? parentId : undefined,
      eachOf: null,
      points: existing?.points == null ? "" : String(existing.points),
      typed: {},
    }),
  );
  const [kept, keep] = useKept<Filled | null>(keptAs(itemId), null);
  return { filled: kept ?? start, keep, own };
}

interface ToChange {
  plan: Plan;
  existing: Item | undefined;
  /** The fields with what was typed of them. */
  whole: ItemFields;
  folder: string | null;
  eachOf: string | null;
  isReady: boolean;
}
/** The changes that are meant; none while something is missing. Ids of what is new stay the same while one types. */
function useChanges({ plan, existing, whole, folder, eachOf, isReady }: ToChange) {
  const [newIds] = useState(() => ({ item: v7(), each: v7() }));
  const last = useRef<NewCommand[]>([]);
  const made = (): NewCommand[] => {
    if (!isReady) return [];
    if (existing) return changesOf(plan, existing, whole, folder);
    const item = { ...newItem(plan, whole, folder), id: newIds.item };
    if (eachOf === null) return [{ kind: "item.add", item }];
    return [{ kind: "item.addForEach", id: newIds.each, item, layerId: eachOf }];
  };
  const commands = made();
  if (!same(last.current, commands)) last.current = commands;
  return {
    commands: last.current,
    /** The item that is drafted; of one for each group the first. */
    draftedId(): string {
      if (existing) return existing.id;
      const [command] = commands;
      if (command?.kind !== "item.addForEach") return newIds.item;
      return itemsForEach(plan, newIds.each, command.item as Item, command.layerId)[0]?.id ?? "";
    },
  };
}

interface Setting {
  plan: Plan;
  filled: Filled;
  keep(filled: Filled | null): void;
  own: ReturnType<typeof useOwn>;
}
/** What fills the form in. */
function settersOf({ plan, filled, keep, own }: Setting) {
  const { fields, typed } = filled;
  return {
    set: (changes: Partial<ItemFields>) => keep({ ...filled, fields: { ...fields, ...changes } }),
    setFolder: (folder: string | null) => keep({ ...filled, folder }),
    setPoints: (points: string) => keep({ ...filled, points }),
    setQuiz: (quiz: Quiz | null, points: string) => keep({ ...filled, points, fields: { ...fields, quiz } }),
    typeDate: (field: DateField, text: string) => keep({ ...filled, typed: { ...typed, [field]: text } }),
    /** A title that names no group yet is begun with the blank for it. */
    chooseEach(layerId: string | null) {
      const { title } = fields;
      const named = /\{\w+\}/.test(title) || layerId === null ? title : usualPattern(plan, layerId, [title]);
      const fitting = layerId === null ? title.replace(/\{\w+\}\s*/g, "") : named;
      keep({ ...filled, eachOf: layerId, fields: { ...fields, title: fitting } });
    },
    /** What one line says stands in the fields; what it leaves unsaid is as a new item begins. */
    fill({ item, eachOf }: NewItem) {
      const { kind, title, audience, split, published, body, dates, points, parentId } = item;
      const whom = audience === blankItem.audience ? (own.audience ?? audience) : audience;
      keep({
        ...filled,
        fields: { ...fields, kind, title, audience: whom, split, published, body: body || fields.body, dates },
        points: points === null ? filled.points : String(points),
        folder: parentId === null ? filled.folder : parentId,
        eachOf,
      });
    },
    forget: () => keep(null),
  };
}

/**
 * Where a new item stands unless somebody says so: in what is selected, if all whom it names come in there. Where it names
 * nobody it is for whoever comes in: anywhere else it would be shown to more.
 */
function useUsualFolder(parentId: string | null, audience: Item["audience"]): string | null {
  const { plan } = useWorkbench();
  const reach = useReach();
  const bits = useMemo(() => reach.audienceBits(audience), [reach, audience]);
  const fits = (id: string) => {
    const folder = plan.items[id];
    if (folder === undefined) return false;
    return audience.to === "everyone" || countShared(bits, reach.meant(folder)) === countBits(bits);
  };
  for (let id = parentId; id !== null; id = plan.items[id]?.parentId ?? null) if (fits(id)) return id;
  return null;
}

/** What an item that an instructor or support person makes begins with: theirs, for those whom they were given. */
function useOwn(): Partial<Pick<Item, "owners" | "audience">> {
  const { scope } = useParts("scope");
  if (scope === null) return {};
  const target = (kind: Target["kind"]) => (id: string) => ({ kind, id });
  return {
    owners: [scope.personId],
    audience: { to: [...scope.groupIds.map(target("group")), ...scope.sectionIds.map(target("section"))], minus: [] },
  };
}
