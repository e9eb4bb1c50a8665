/** An item that is made or changed, beside the crossings: they show what it would be while one types. */

import { type ReactNode, useEffect, useState } from "react";
import { staffAt } from "../../../../core/access/staff.ts";
import { typeOf } from "../../../../core/formats/stored-files.ts";
import { fullName, outlineOrder } from "../../../../core/plan/lookup.ts";
import { questionsOf } from "../../../../core/plan/questions.ts";
import type { Item, ItemKind } from "../../../../core/plan/types.ts";
import { splitKinds } from "../../../../core/reach/outline/check.ts";
import { Button } from "../../../kit/Button.tsx";
import { Card, CardActions } from "../../../kit/Card.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { RichText } from "../../../kit/RichText.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { Views } from "../../../kit/Views.tsx";
import { useEffectWhen } from "../../../kit/when.ts";
import { useDraftReview, useParts, useWorkbench } from "../../../workbench/context.tsx";
import { sayTouched } from "../../../workbench/sayTouched.ts";
import { QuestionsField } from "../questions/QuestionsField.tsx";
import { AudienceChooser } from "./AudienceChooser.tsx";
import { Conditions } from "./Conditions.tsx";
import { EachGroupGets } from "./EachGroupGets.tsx";
import { FileField } from "./FileField.tsx";
import { ItemDates } from "./ItemDates.tsx";
import { markableKinds, workKinds } from "./item-commands.ts";
import styles from "./items.module.css";
import { NewInOneLine } from "./NewInOneLine.tsx";
import { rememberAudience } from "./recent.ts";
import { SplitField } from "./SplitField.tsx";
import { type ItemForm, useItemForm, type Written } from "./useItemForm.ts";

const kinds: ItemKind[] = ["folder", "page", "file", "link", "discussion", "assignment", "quiz", "event"];
const plainKinds = new Set<ItemKind>(["folder", "link", "file"]);
const top = "top";

interface ItemCardProps {
  written: Written;
  onClose(): void;
  onMade(itemId: string): void;
  /** The item that stands among the crossings meanwhile; null while nothing can be shown yet. */
  onShown(itemId: string | null): void;
}

export function ItemCard({ written, onClose, onMade, onShown }: ItemCardProps) {
  const { store, showWhy } = useWorkbench();
  useEffect(showWhy, [showWhy]);
  const form = useItemForm(written);
  const { existing, filled, commands, isReady } = form;
  const { fields, eachOf } = filled;
  const [isLineWrong, setLineWrong] = useState(false);
  useTried(form, onShown);
  const leave = () => {
    form.forget();
    onClose();
  };
  const keep = () => {
    const id = form.draftedId();
    if (commands.length > 0 && !store.draft(commands)) return;
    if (eachOf === null && commands.length > 0) rememberAudience(store.course().drafted.plan, fields.audience);
    form.forget();
    onMade(id);
    onClose();
  };
  return (
    // Escape puts the card away, and what is filled in is there when it is opened again; only Leave drops it.
    <Card title={existing ? `Change ${existing.title}` : "New item"} onClose={onClose}>
      <SubmitForm onSubmit={keep}>
        {!existing && <NewInOneLine onRead={form.fill} onWrong={setLineWrong} />}
        {!existing && (
          <Views
            label="Kind"
            value={fields.kind}
            onChange={(kind) => form.set({ kind })}
            options={kinds.map((kind) => ({ value: kind, label: kind }))}
          />
        )}
        <What form={form} />
        <Whom form={form} />
        <Rest form={form} />
        <CardActions>
          <Tried />
          <Button onPress={leave}>Leave</Button>
          <Button strong type="submit" isDisabled={!isReady || isLineWrong}>
            {existing ? "Draft the change" : eachOf ? `Draft a ${fields.kind} for each` : `Draft the ${fields.kind}`}
          </Button>
        </CardActions>
      </SubmitForm>
    </Card>
  );
}

/** What is written is tried on the plan a moment after the last key, so that every picture shows it. */
function useTried(form: ItemForm, onShown: (itemId: string | null) => void): void {
  const { store } = useWorkbench();
  const { commands } = form;
  // It is tried anew when the commands are others.
  useEffectWhen([commands], () => {
    const timer = setTimeout(() => {
      store.tryOut("card", commands);
      onShown(form.existing || commands.length > 0 ? form.draftedId() : null);
    }, 200);
    return () => clearTimeout(timer);
  });
  useEffect(() => () => store.tryOut("card", []), [store]);
}

/** Whom it would touch, counted behind the typing. */
function Tried() {
  const { review } = useDraftReview();
  return <span aria-live="polite">{review.tried && sayTouched(review.tried)}</span>;
}

interface PartProps {
  form: ItemForm;
}

/** What it is and where: title, folder, what it holds. */
function What({ form }: PartProps) {
  const state = useParts("drafted");
  const { existing, filled, folder, mistake, set } = form;
  const { fields } = filled;
  const folders = outlineOrder(state.drafted.plan).filter(
    ({ item }) => item.kind === "folder" && item.id !== existing?.id,
  );
  const where = (
    <Choice
      label="In"
      value={folder ?? top}
      onChange={(value) => form.setFolder(value === top ? null : value)}
      options={[
        { value: top, label: "Top of the outline" },
        ...folders.map(({ item, depth }) => ({ value: item.id, label: `${"\u2003".repeat(depth)}${item.title}` })),
      ]}
    />
  );
  return (
    <>
      <div className={styles.pair}>
        <TextField
          label="Title"
          value={fields.title}
          onChange={(title) => set({ title })}
          error={fields.title.trim() !== "" && mistake?.sentence}
          autoFocus={existing !== undefined}
          isRequired
        />
        {where}
      </div>
      {fields.kind === "link" && (
        <TextField label="Address" value={fields.body} onChange={(body) => set({ body })} placeholder="https://" />
      )}
      {fields.kind === "file" && (
        <FileField file={fields.file} onChange={(file) => set({ file, title: fields.title || file.name })} />
      )}
    </>
  );
}

/** For whom, when, how much, and each group's own thread or hand-in. */
function Whom({ form }: PartProps) {
  const state = useParts("scope");
  const { existing, filled, folder, dates, set } = form;
  const { fields, eachOf, points } = filled;
  const { kind } = fields;
  return (
    <>
      <AudienceChooser
        audience={fields.audience}
        onChange={(audience) => set({ audience })}
        folderId={folder}
        {...(existing || state.scope ? {} : { each: { layerId: eachOf, choose: form.chooseEach } })}
      />
      <ItemDates kind={kind} dates={dates} type={form.typeDate} />
      <EachGroupGets itemId={form.draftedId()} kind={kind} />
      {markableKinds.has(kind) && (
        <TextField
          label="Points"
          value={points}
          onChange={form.setPoints}
          hint="Empty: nothing is marked."
          error={form.isPointsWrong && "Points are a number above 0, such as 20."}
          inputMode="decimal"
        />
      )}
      {splitKinds.has(kind) && state.scope === null && (
        <SplitField
          each={workKinds.has(kind) ? "hand-in" : "thread"}
          split={fields.split}
          onChange={(split) => set({ split })}
        />
      )}
      {workKinds.has(kind) && fields.split && (
        <Checkbox isSelected={fields.leadHandsIn} onChange={(leadHandsIn) => set({ leadHandsIn })}>
          Only a lead of the group hands in
        </Checkbox>
      )}
    </>
  );
}

/** Its text, and what few items need, folded until one does. */
function Rest({ form }: PartProps) {
  const { filled, existing, folder, set } = form;
  const { fields } = filled;
  const asItem: Item = { ...fields, position: 0, id: existing?.id ?? "new", parentId: folder };
  return (
    <>
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
        <Checkbox isSelected={fields.readableAfterClose} onChange={(readableAfterClose) => set({ readableAfterClose })}>
          Stays readable after it closes
        </Checkbox>
      </div>
      {!plainKinds.has(fields.kind) && <Body form={form} />}
      {fields.kind === "quiz" && (
        <Folded title={`Questions${fields.quiz ? `: ${questionsOf(fields.quiz).length}` : ""}`} isOpen={!existing}>
          <QuestionsField quiz={fields.quiz} points={filled.points} onChange={form.setQuiz} title={fields.title} />
        </Folded>
      )}
      <Folded title="Release condition" isOpen={fields.condition !== null || fields.variants.length > 0}>
        <Conditions item={asItem} onChange={set} />
      </Folded>
      <Owner form={form} />
    </>
  );
}

/** Shown in full once it is opened, or where there is something in it. */
function Folded({ title, isOpen, children }: { title: string; isOpen: boolean; children: ReactNode }) {
  const [opened, setOpened] = useState(isOpen);
  return (
    <details
      open={opened || isOpen}
      onToggle={(event) => setOpened(event.currentTarget.open)}
      className={styles.folded}
    >
      <summary>{title}</summary>
      {(opened || isOpen) && children}
    </details>
  );
}

/** Who may change it beside the coordinator. */
/** What it says; pictures are files of the outline that a browser shows in place. */
function Body({ form }: PartProps) {
  const { plan } = useWorkbench();
  const pictures = outlineOrder(plan).flatMap(({ item }) =>
    item.file && /^image\//.test(item.file.type) && typeOf(item.file.name)?.shown
      ? [{ value: `/course/${plan.course.id}/file/${item.id}`, label: item.title }]
      : [],
  );
  return (
    <RichText
      label="Text"
      value={form.filled.fields.body}
      onChange={(body) => form.set({ body })}
      pictures={pictures}
    />
  );
}

function Owner({ form }: PartProps) {
  const { plan, t } = useWorkbench();
  const state = useParts("scope");
  const { fields } = form.filled;
  if (state.scope !== null) return null;
  return (
    <Choice
      label="Changed by you, and"
      value={fields.owners[0] ?? "nobody"}
      onChange={(id) => form.set({ owners: id === "nobody" ? [] : [id] })}
      options={[
        { value: "nobody", label: "nobody else" },
        ...staffAt(plan, t)
          .filter(({ role }) => role !== "coordinator")
          .map(({ person }) => ({ value: person.id, label: fullName(person) })),
      ]}
    />
  );
}
