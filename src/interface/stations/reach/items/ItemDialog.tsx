import { useMemo, useState } from "react";
import { v7 } from "uuid";
import { staffAt } from "../../../../core/access/staff.ts";
import type { NewItem } from "../../../../core/line/new-item.ts";
import { same } from "../../../../core/plan/difference.ts";
import { fullName, outlineOrder } from "../../../../core/plan/lookup.ts";
import { blankItem, type Item, type ItemKind, type Target } from "../../../../core/plan/types.ts";
import { splitKinds } from "../../../../core/reach/outline/check.ts";
import { itemsForEach, patternMistake, usualPattern } from "../../../../core/reach/outline/for-each.ts";
import { countBits, countShared } from "../../../../core/sets/bits.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { RichText } from "../../../kit/RichText.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { Views } from "../../../kit/Views.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import { AudienceChooser, isForNobody } from "./AudienceChooser.tsx";
import { Conditions } from "./Conditions.tsx";
import { FileField } from "./FileField.tsx";
import { ItemDates, QuizLimits, useTypedDates } from "./ItemDates.tsx";
import { changesOf, markableKinds, newItem, workKinds } from "./item-commands.ts";
import styles from "./items.module.css";
import { NewInOneLine } from "./NewInOneLine.tsx";
import { rememberAudience } from "./recent.ts";
import { SplitField } from "./SplitField.tsx";

const kinds: ItemKind[] = ["folder", "page", "file", "link", "discussion", "assignment", "quiz", "event"];
const plainKinds = new Set<ItemKind>(["folder", "link", "file"]);
const top = "top";
interface ItemDialogProps {
  /** Null for a new item. */
  itemId: string | null;
  parentId: string | null;
  /** Whether it was asked for in that folder, and not only while the folder was selected. */
  isInIt: boolean;
  onClose(): void;
  onMade(itemId: string): void;
}

export function ItemDialog({ itemId, parentId, isInIt, onClose, onMade }: ItemDialogProps) {
  const { store, plan, state, t } = useWorkbench();
  const existing = itemId ? plan.items[itemId] : undefined;
  const own = useOwn();
  const [fields, setFields] = useState({ ...blankItem, ...own, kind: "folder" as ItemKind, title: "", ...existing });
  /** Where somebody put it; undefined until then. */
  const [chosenFolder, setFolder] = useState<string | null | undefined>(
    existing ? existing.parentId : isInIt ? parentId : undefined,
  );
  const usual = useUsualFolder(parentId, fields.audience);
  const folder = chosenFolder === undefined ? usual : chosenFolder;
  /** The layer for each group of which one is made; null for one alone. */
  const [eachOf, setEachOf] = useState<string | null>(null);
  const dates = useTypedDates(fields.kind, fields.dates);
  const [isLineWrong, setLineWrong] = useState(false);
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
    !dates.isWrong &&
    !isLineWrong &&
    mistake === null &&
    (eachOf !== null || !isForNobody(fields.audience)) &&
    (fields.kind !== "file" || fields.file !== null);

  /** A title that names no group yet is begun with the blank for it. */
  const chooseEach = (layerId: string | null) => {
    setEachOf(layerId);
    if (layerId !== null && !/\{\w+\}/.test(fields.title)) set({ title: usualPattern(plan, layerId, [fields.title]) });
    if (layerId === null) set({ title: fields.title.replace(/\{\w+\}\s*/g, "") });
  };

  /** What one line says stands in the fields; what it leaves unsaid is as a new item begins. */
  const fill = ({ item, eachOf: of }: NewItem) => {
    const { kind, title, audience, split, published, body } = item;
    setFields({
      ...fields,
      kind,
      title,
      audience: item.audience === blankItem.audience ? (own.audience ?? audience) : audience,
      split,
      published,
      body: body || fields.body,
      dates: item.dates,
    });
    setPoints(item.points === null ? points : String(item.points));
    if (item.parentId !== null) setFolder(item.parentId);
    setEachOf(of);
  };

  /** Drafts what is filled in; gives the item that is new, or the one that is there. Null: it was refused. */
  const draft = (): string | null => {
    const filled = { ...fields, points: number, dates: dates.dates };
    if (existing) {
      const commands = changesOf(plan, existing, filled, folder);
      return commands.length === 0 || store.draft(commands) ? existing.id : null;
    }
    const item = newItem(plan, filled, folder);
    if (eachOf === null) return store.draft([{ kind: "item.add", item }]) ? item.id : null;
    const id = v7();
    const [first] = itemsForEach(plan, id, item, eachOf);
    return store.draft([{ kind: "item.addForEach", id, item, layerId: eachOf }]) ? (first?.id ?? "") : null;
  };
  const keep = () => {
    const id = draft();
    if (id === null) return;
    if (eachOf === null && !same(existing?.audience, fields.audience)) rememberAudience(plan, fields.audience);
    if (!existing) onMade(id);
    onClose();
  };

  return (
    <Dialog title={existing ? `Change ${existing.title}` : "New item"} onClose={onClose} wide>
      <SubmitForm onSubmit={keep}>
        {!existing && <NewInOneLine onRead={fill} onWrong={setLineWrong} />}
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
              autoFocus={existing !== undefined}
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
            {markableKinds.has(fields.kind) && (
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
            <ItemDates kind={fields.kind} typed={dates} />
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

/**
 * Where a new item stands unless somebody says so: in what is selected, if all whom it names come in there. Where it names
 * nobody it is for whoever comes in: anywhere else it would be shown to more.
 */
function useUsualFolder(parentId: string | null, audience: Item["audience"]): string | null {
  const { plan, reach } = useWorkbench();
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
  const { scope } = useWorkbench().state;
  if (scope === null) return {};
  const target = (kind: Target["kind"]) => (id: string) => ({ kind, id });
  return {
    owners: [scope.personId],
    audience: { to: [...scope.groupIds.map(target("group")), ...scope.sectionIds.map(target("section"))], minus: [] },
  };
}
