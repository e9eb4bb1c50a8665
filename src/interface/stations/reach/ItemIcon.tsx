import {
  CalendarDays,
  DoorOpen,
  File,
  FileText,
  Folder,
  FolderLock,
  Link,
  ListChecks,
  MessagesSquare,
  PenLine,
} from "lucide-react";
import type { Item, ItemKind } from "../../../core/plan/types.ts";

const icons: Record<ItemKind, typeof File> = {
  folder: Folder,
  page: FileText,
  file: File,
  link: Link,
  discussion: MessagesSquare,
  assignment: PenLine,
  quiz: ListChecks,
  event: CalendarDays,
};

/** What an item is; a folder also whether it seals what is in it. */
export function ItemIcon({ item }: { item: Pick<Item, "kind" | "seals" | "audience"> }) {
  const folder = item.seals ? (item.audience.to === "everyone" ? Folder : FolderLock) : DoorOpen;
  const Icon = item.kind === "folder" ? folder : icons[item.kind];
  return <Icon size={15} strokeWidth={1.7} aria-hidden />;
}
