import { useState } from "react";
import { v7 } from "uuid";
import { staffAt } from "../../../../core/access/staff.ts";
import { same } from "../../../../core/plan/difference.ts";
import { fullName, outlineOrder } from "../../../../core/plan/lookup.ts";
import {
  blankItem,
  type DateField,
  type DateFields,
  type Item,
  type ItemKind,
  type Target,
} from "../../../../core/plan/types.ts";
import { lastPosition, splitKinds } from "../../../../core/reach/outline/check.ts";
import { itemsForEach, patternMistake } from "../../../../core/reach/outline/for-each.ts";
import { dateFields } from "../../../../core/timing/resolving/resolve.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { RichText } from "../../../kit/RichText.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { Views } from "../../../kit/Views.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import type { NewCommand } from "../../../workbench/store.ts";
import { AudienceChooser, isForNobody } from "./AudienceChooser.tsx";
import { Conditions } from "./Conditions.tsx";
import { FileField } from "./FileField.tsx";
import { ItemDates, momentsOf } from "./ItemDates.tsx";
import styles from "./items.module.css";
import { rememberAudience } from "./recent.ts";
import { SplitField } from "./SplitField.tsx";

const kinds: ItemKind[] = ["folder", "page", "file", "link", "discussion", "assignment", "quiz", "event"];
/** What a group hands in together, where it is split. */
const workKinds = new Set<ItemKind>(["assignment", "quiz"]);
const markable = new Set<ItemKind>(["discussion", "assignment", "quiz"]);
const plainKinds = new Set<ItemKind>(["folder", "link", "file"]);
const top = "top";
/** What the dialog changes of an item that is there. */
const changeable = [
  "title",
  "body",
  "published",
  "seals",
  "audience",
  "condition",
  "variants",
  "announced",
  "readableAfterClose",
  "points",
  "split",
  "leadHandsIn",
  "file",
  "owners",
] as const;

interface ItemDialogProps {
  /** Null for a new item. */
  itemId: string | null;
  parentId: string | null;
  onClose(): void;
  onMade(itemId: string): void;
}

export function ItemDialog({ itemId, parentId, onClose, onMade }: ItemDialogProps) {
  const { store, plan, state, t } = useWorkbench();
  const existing = itemId ? plan.items[itemId] : undefined;
  const own = useOwn();
  const [fields, setFields] = useState({ ...blankItem, ...own, kind: "folder" as ItemKind, title: "", ...existing });
  const [folder, setFolder] = useState(existing ? existing.parentId : parentId);
  /** The layer for each group of which one is made; null for one alone. */
  const [eachOf, setEachOf] = useState<string | null>(null);
  const [datesWrong, setDatesWrong] = useState(false);
  const [points, setPoints] = useState(existing?.points == null ? "" : String(existing.points));
  const asItem: Item = {
    position: 0,
    ...fields,
    ...(eachOf === null ? {} : { audience: blankItem.audience }),
    id: existing?.id ?? "new",
    parentId: folder,
  };
  const set = (changes: Partial<typeof fields>) => setFields({ ...fields, ...changes });
  const folders = outlineOrder(plan).filter(({ item }) => item.kind === "folder" && item.id !== itemId);
  const number = points.trim() === "" ? null : Number(points);
  const pointsWrong = number !== null && !(number > 0 && number <= 100_000);
  const mistake = eachOf === null ? null : patternMistake(plan, eachOf, fields.title);
  const isReady =
    fields.title.trim() !== "" &&
    !pointsWrong &&
    !datesWrong &&
    mistake === null &&
    (eachOf !== null || !isForNobody(fields.audience)) &&
    (fields.kind !== "file" || fields.file !== null);

  /** A title that names no group yet is begun with the blank for it. */
  const chooseEach = (layerId: string | null) => {
    setEachOf(layerId);
    const isPrivate = layerId !== null && plan.layers[layerId]?.private;
    if (layerId !== null && !isPrivate && !/\{\w+\}/.test(fields.title))
      set({ title: `{group} ${fields.title}`.trimEnd() });
    if (layerId === null) set({ title: fields.title.replace(/\{\w+\}\s*/g, "") });
  };

  const keep = () => {
    const position = lastPosition(plan, folder);
    const points = markable.has(fields.kind) ? number : null;
    const title = fields.title.trim();
    // What means nothing for the kind that was chosen is not kept from the kind before.
    const fitting = {
      split: splitKinds.has(fields.kind) ? fields.split : null,
      leadHandsIn: workKinds.has(fields.kind) && fields.split !== null && fields.leadHandsIn,
      file: fields.kind === "file" ? fields.file : null,
      dates: existing ? fields.dates : datesOf(fields.kind, fields.dates),
    };
    if (!existing) {
      const item: Item = { ...fields, ...fitting, id: v7(), parentId: folder, position, points, title };
      if (eachOf !== null) {
        const id = v7();
        const [first] = itemsForEach(plan, id, item, eachOf);
        if (!store.draft([{ kind: "item.addForEach", id, item, layerId: eachOf }])) return;
        if (first) onMade(first.id);
      } else {
        if (!store.draft([{ kind: "item.add", item }])) return;
        rememberAudience(plan, item.audience);
        onMade(item.id);
      }
    } else {
      const next = { ...fields, ...fitting, title, points };
      const changed = changeable.filter((name) => !same(existing[name], next[name]));
      const commands: NewCommand[] = [];
      if (changed.length > 0)
        commands.push({
          kind: "item.change",
          itemId: existing.id,
          fields: Object.fromEntries(changed.map((name) => [name, next[name]])),
        });
      if (!same(existing.dates, next.dates))
        commands.push({ kind: "dates.set", itemIds: [existing.id], dates: patchOf(existing.dates, next.dates) });
      if (folder !== existing.parentId)
        commands.push({ kind: "item.move", itemId: existing.id, parentId: folder, position });
      if (commands.length > 0 && !store.draft(commands)) return;
      if (changed.includes("audience")) rememberAudience(plan, next.audience);
    }
    onClose();
  };

  return (
    <Dialog title={existing ? `Change ${existing.title}` : "New item"} onClose={onClose} wide>
      <SubmitForm onSubmit={keep}>
        {!existing && (
          <Views
            label="Kind"
            value={fields.kind}
            onChange={(kind) => set({ kind })}
            options={kinds.map((kind) => ({ value: kind, label: kind }))}
          />
        )}
        <div className={styles.writing}>
          <div className={styles.column}>
            <Choice
              label="In"
              value={folder ?? top}
              onChange={(value) => setFolder(value === top ? null : value)}
              options={[
                { value: top, label: "Top of the outline" },
                ...folders.map(({ item, depth }) => ({
                  value: item.id,
                  label: `${"\u2003".repeat(depth)}${item.title}`,
                })),
              ]}
            />
            <TextField
              label="Title"
              value={fields.title}
              onChange={(title) => set({ title })}
              error={fields.title.trim() !== "" && mistake?.sentence}
              autoFocus
              isRequired
            />
            {fields.kind === "link" && (
              <TextField
                label="Address"
                value={fields.body}
                onChange={(body) => set({ body })}
                placeholder="https://"
              />
            )}
            {fields.kind === "file" && (
              <FileField file={fields.file} onChange={(file) => set({ file, title: fields.title || file.name })} />
            )}
            {!plainKinds.has(fields.kind) && (
              <RichText label="Text" value={fields.body} onChange={(body) => set({ body })} />
            )}
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
            {state.scope === null && (
              <Choice
                label="Changed by you, and"
                value={fields.owners[0] ?? "nobody"}
                onChange={(id) => set({ owners: id === "nobody" ? [] : [id] })}
                options={[
                  { value: "nobody", label: "nobody else" },
                  ...staffAt(plan, t)
                    .filter(({ role }) => role !== "coordinator")
                    .map(({ person }) => ({ value: person.id, label: fullName(person) })),
                ]}
              />
            )}
            {splitKinds.has(fields.kind) && state.scope === null && (
              <SplitField
                each={workKinds.has(fields.kind) ? "hand-in" : "thread"}
                split={fields.split}
                onChange={(split) => set({ split })}
              />
            )}
            {workKinds.has(fields.kind) && fields.split && (
              <Checkbox isSelected={fields.leadHandsIn} onChange={(leadHandsIn) => set({ leadHandsIn })}>
                Only a lead of the group hands in
              </Checkbox>
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
              <Checkbox
                isSelected={fields.readableAfterClose}
                onChange={(readableAfterClose) => set({ readableAfterClose })}
              >
                Stays readable after it closes
              </Checkbox>
            </div>
          </div>
          <div className={styles.column}>
            <AudienceChooser
              audience={fields.audience}
              onChange={(audience) => set({ audience })}
              folderId={folder}
              {...(existing || state.scope ? {} : { each: { layerId: eachOf, choose: chooseEach } })}
            />
            <ItemDates
              kind={fields.kind}
              dates={fields.dates}
              onChange={(dates, isWrong) => {
                set({ dates });
                setDatesWrong(isWrong);
              }}
            />
            {fields.kind === "quiz" && <QuizLimits dates={fields.dates} onChange={(dates) => set({ dates })} />}
            <Conditions item={asItem} onChange={set} />
          </div>
        </div>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={!isReady}>
            {existing ? "Draft the change" : eachOf ? `Draft a ${fields.kind} for each` : `Draft the ${fields.kind}`}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

/** Of dates and limits those that mean something for a kind: what was typed before another kind was chosen is not kept. */
const datesOf = (kind: ItemKind, dates: DateFields): DateFields => {
  const limits: DateField[] = kind === "quiz" ? ["attempts", "minutes", "accessWord"] : [];
  const wanted = new Set<string>([...momentsOf(kind), ...limits]);
  return Object.fromEntries(Object.entries(dates).filter(([field]) => wanted.has(field))) as DateFields;
};

/** What leads from some dates to others: those that differ; null for what is no longer set. */
const patchOf = (before: DateFields, after: DateFields) =>
  Object.fromEntries(
    dateFields.filter((field) => !same(before[field], after[field])).map((field) => [field, after[field] ?? null]),
  );

/** What an item that an instructor or support person makes begins with: theirs, for those whom they were given. */
function useOwn(): Partial<Pick<Item, "owners" | "audience">> {
  const { scope } = useWorkbench().state;
  if (scope === null) return {};
  const target = (kind: Target["kind"]) => (id: string) => ({ kind, id });
  return {
    owners: [scope.personId],
    audience: { to: [...scope.groupIds.map(target("group")), ...scope.sectionIds.map(target("section"))], minus: [] },
  };
}

/** How often and how long a quiz can be taken; groups and persons may differ on Timing. */
function QuizLimits({ dates, onChange }: { dates: Item["dates"]; onChange(dates: Item["dates"]): void }) {
  const limit = (field: "attempts" | "minutes", text: string) => {
    const { [field]: _, ...rest } = dates;
    const number = Number(text);
    onChange(Number.isInteger(number) && number > 0 ? { ...rest, [field]: number } : rest);
  };
  const shown = (value: number | "none" | undefined) => (value === undefined || value === "none" ? "" : String(value));
  return (
    <div className={styles.pair}>
      <TextField
        label="Attempts"
        value={shown(dates.attempts)}
        onChange={(text) => limit("attempts", text)}
        inputMode="numeric"
        hint="Empty: no limit"
      />
      <TextField
        label="Minutes"
        value={shown(dates.minutes)}
        onChange={(text) => limit("minutes", text)}
        inputMode="numeric"
        hint="Empty: no limit"
      />
    </div>
  );
}
