import { useState } from "react";
import { v7 } from "uuid";
import { same } from "../../../core/plan/difference.ts";
import { lookup, outlineOrder } from "../../../core/plan/lookup.ts";
import { blankItem, type Item, type ItemKind } from "../../../core/plan/types.ts";
import { useBench } from "../../bench/context.tsx";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { AudienceChooser } from "./AudienceChooser.tsx";
import styles from "./reach.module.css";

const kinds: ItemKind[] = ["folder", "page", "discussion", "assignment", "quiz", "link", "event"];
const markable = new Set<ItemKind>(["discussion", "assignment", "quiz"]);
const top = "top";

interface ItemDialogProps {
  /** Null for a new item. */
  itemId: string | null;
  parentId: string | null;
  onClose(): void;
  onMade(itemId: string): void;
}

export function ItemDialog({ itemId, parentId, onClose, onMade }: ItemDialogProps) {
  const { store, plan } = useBench();
  const existing = itemId ? plan.items[itemId] : undefined;
  const [fields, setFields] = useState({ ...blankItem, kind: "folder" as ItemKind, title: "", ...existing });
  const [folder, setFolder] = useState(existing ? existing.parentId : parentId);
  const [points, setPoints] = useState(existing?.points == null ? "" : String(existing.points));
  const set = (changes: Partial<typeof fields>) => setFields({ ...fields, ...changes });
  const folders = outlineOrder(plan).filter(({ item }) => item.kind === "folder" && item.id !== itemId);
  const number = points.trim() === "" ? null : Number(points);
  const pointsWrong = number !== null && !(number > 0 && number <= 100_000);
  const wording = fields.kind === "link" ? "Address" : "Text";

  const keep = () => {
    const position = Math.max(-1, ...(lookup(plan).children.get(folder) ?? []).map((item) => item.position)) + 1;
    const points = markable.has(fields.kind) ? number : null;
    if (!existing) {
      const item: Item = {
        ...fields,
        id: v7(),
        parentId: folder,
        position,
        points,
        title: fields.title.trim(),
      };
      if (!store.draft([{ kind: "item.add", item }])) return;
      onMade(item.id);
    } else {
      const next = { ...fields, title: fields.title.trim(), points };
      const names = ["title", "body", "published", "seals", "audience", "announced", "points"] as const;
      const changed = names.filter((name) => !same(existing[name], next[name]));
      const commands: Parameters<typeof store.draft>[0] = [];
      if (changed.length > 0)
        commands.push({
          kind: "item.change",
          itemId: existing.id,
          fields: Object.fromEntries(changed.map((name) => [name, next[name]])),
        });
      if (folder !== existing.parentId)
        commands.push({ kind: "item.move", itemId: existing.id, parentId: folder, position });
      if (commands.length > 0 && !store.draft(commands)) return;
    }
    onClose();
  };

  return (
    <Dialog title={existing ? `Change ${existing.title}` : "New item"} onClose={onClose}>
      <SubmitForm onSubmit={keep}>
        <div className={styles.pair}>
          {!existing && (
            <Choice
              label="Kind"
              value={fields.kind}
              onChange={(kind) => set({ kind })}
              options={kinds.map((kind) => ({ value: kind, label: kind }))}
            />
          )}
          <Choice
            label="In"
            value={folder ?? top}
            onChange={(value) => setFolder(value === top ? null : value)}
            options={[
              { value: top, label: "Top of the outline" },
              ...folders.map(({ item, depth }) => ({
                value: item.id,
                label: `${"  ".repeat(depth)}${item.title}`,
              })),
            ]}
          />
        </div>
        <TextField label="Title" value={fields.title} onChange={(title) => set({ title })} autoFocus isRequired />
        {fields.kind !== "folder" && (
          <TextField
            label={wording}
            lines={fields.kind === "link" ? 1 : 4}
            value={fields.body}
            onChange={(body) => set({ body })}
          />
        )}
        <AudienceChooser audience={fields.audience} onChange={(audience) => set({ audience })} />
        {markable.has(fields.kind) && (
          <TextField
            label="Points"
            value={points}
            onChange={setPoints}
            hint="Leave it empty where nothing is marked."
            error={pointsWrong && "Points are a number above 0, such as 20."}
            inputMode="decimal"
          />
        )}
        <div className={styles.flags}>
          <Checkbox isSelected={fields.published} onChange={(published) => set({ published })}>
            Published
          </Checkbox>
          {fields.kind === "folder" && (
            <Checkbox isSelected={fields.seals} onChange={(seals) => set({ seals })}>
              Seals its contents
            </Checkbox>
          )}
          <Checkbox isSelected={fields.announced} onChange={(announced) => set({ announced })}>
            Announced before it opens
          </Checkbox>
        </div>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={fields.title.trim() === "" || pointsWrong}>
            {existing ? "Draft the change" : `Draft the ${fields.kind}`}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
