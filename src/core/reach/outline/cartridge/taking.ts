/** What an archive holds as items of a draft. Nothing of it is published: nobody sees it before it was looked through. */
import { blankItem, type Item } from "../../../plan/types.ts";
import type { CartridgeItem } from "./resource.ts";

export interface TakeInto {
  courseId: string;
  /** The folder that it goes into; null: the top of the outline. */
  parentId: string | null;
  /** The place of the first item there. */
  first: number;
  /** Files as they were stored. */
  stored: ReadonlyMap<CartridgeItem, Item["file"]>;
  makeId(): string;
}
type AddItem = { kind: "item.add"; item: Item };

/** Each item, and those beneath it. */
export const allOf = (items: CartridgeItem[]): CartridgeItem[] =>
  items.flatMap((item) => [item, ...allOf(item.children)]);

/** Links into the archive become links to what came of their files; where nothing did, the words stay without one. */
function relinked(html: string, addressOf: (path: string) => string | null): string {
  return html.replace(
    /<a\b[^>]*\bhref\s*=\s*(["'])cartridge:(.*?)\1[^>]*>([\s\S]*?)<\/a>/gi,
    (_, quote, path, words) => {
      const address = addressOf(path);
      return address === null ? words : `<a href=${quote}${address}${quote}>${words}</a>`;
    },
  );
}

export function cartridgeCommands(items: CartridgeItem[], into: TakeInto): AddItem[] {
  const ids = new Map(allOf(items).map((item) => [item, into.makeId()]));
  const addresses = new Map<string, string>();
  for (const [item, id] of ids)
    if (item.path !== null)
      addresses.set(item.path, `/course/${into.courseId}/${item.kind === "file" ? "file" : "item"}/${id}`);
  const commandsOf = (list: CartridgeItem[], parentId: string | null, first: number): AddItem[] =>
    list.flatMap((one, place) => {
      const id = ids.get(one) as string;
      const item: Item = {
        ...blankItem,
        id,
        parentId,
        position: first + place,
        kind: one.kind,
        title: one.title,
        body: one.kind === "link" ? one.body : relinked(one.body, (path) => addresses.get(path) ?? null),
        points: one.points,
        quiz: one.quiz,
        file: into.stored.get(one) ?? null,
        published: false,
      };
      return [{ kind: "item.add" as const, item }, ...commandsOf(one.children, id, 0)];
    });
  return commandsOf(items, into.parentId, into.first);
}
