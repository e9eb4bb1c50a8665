/** What can be done with several items at once. */
import { useState } from "react";
import { lookup } from "../../../../core/plan/lookup.ts";
import { type Audience, type Between, blankItem, type Item } from "../../../../core/plan/types.ts";
import { splitKinds } from "../../../../core/reach/outline/check.ts";
import { patternMistake, usualPattern } from "../../../../core/reach/outline/for-each.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice, TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { useParts, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { AudienceChooser, EachOf, isForNobody, withGroups } from "./AudienceChooser.tsx";
import { Conditions } from "./Conditions.tsx";
import { DatesDialog } from "./DatesDialog.tsx";
import { folderOf, folderOptions, top } from "./folders.ts";
import styles from "./items.module.css";
import { rememberAudience } from "./recent.ts";
import { betweenWords, SplitField } from "./SplitField.tsx";

type Tool = "audience" | "dates" | "each" | "condition" | "move" | "pages" | "combine" | "split";

interface ToolsProps {
  items: Item[];
  clear(): void;
}

export function ItemTools({ items, clear }: ToolsProps) {
  const { store } = useWorkbench();
  const state = useParts("scope");
  const [tool, setTool] = useState<Tool | null>(null);
  const itemIds = items.map(({ id }) => id);
  const close = () => setTool(null);
  const publish = (published: boolean) => store.draft([{ kind: "items.change", itemIds, fields: { published } }]);
  const mayCombine = items.length > 1 && items.every(({ kind }) => kind === items[0]?.kind && splitKinds.has(kind));
  return (
    <div className={styles.tools} role="toolbar" aria-label="Selected items">
      <strong>{plural(items.length, "item")} selected</strong>
      <Button onPress={() => setTool("audience")}>For whom</Button>
      <Button onPress={() => setTool("each")} isDisabled={state.scope !== null}>
        One for each group
      </Button>
      <Button onPress={() => setTool("dates")}>Dates</Button>
      <Button onPress={() => setTool("condition")}>Condition</Button>
      {items.some(({ kind }) => splitKinds.has(kind)) && <Button onPress={() => setTool("split")}>Split</Button>}
      <Button onPress={() => publish(true)} isDisabled={items.every(({ published }) => published)}>
        Publish
      </Button>
      <Button onPress={() => publish(false)} isDisabled={items.every(({ published }) => !published)}>
        Unpublish
      </Button>
      <Button onPress={() => setTool("move")}>Move or copy</Button>
      <Button onPress={() => setTool("pages")}>On group pages</Button>
      {mayCombine && <Button onPress={() => setTool("combine")}>Make one split item</Button>}
      <Button
        onPress={() => {
          if (store.draft([{ kind: "items.remove", itemIds }])) clear();
        }}
      >
        Remove
      </Button>
      <Button quiet onPress={clear}>
        Clear
      </Button>
      {tool === "audience" && <AudienceDialog items={items} onClose={close} />}
      {tool === "dates" && <DatesDialog items={items} onClose={close} />}
      {tool === "each" && <EachDialog items={items} onClose={close} />}
      {tool === "condition" && <ConditionDialog items={items} onClose={close} />}
      {tool === "split" && <SplitDialog items={items} onClose={close} />}
      {tool === "move" && <MoveDialog items={items} onClose={close} />}
      {tool === "pages" && <PagesDialog items={items} onClose={close} />}
      {tool === "combine" && <CombineDialog items={items} onClose={close} done={clear} />}
    </div>
  );
}

interface DialogProps {
  items: Item[];
  onClose(): void;
}
const names = (items: Item[]) => (items.length === 1 ? (items[0]?.title ?? "") : plural(items.length, "item"));

function AudienceDialog({ items, onClose }: DialogProps) {
  const { store, plan } = useWorkbench();
  const [audience, setAudience] = useState<Audience>(items[0]?.audience ?? blankItem.audience);
  const draft = () => {
    if (!store.draft([{ kind: "items.change", itemIds: items.map(({ id }) => id), fields: { audience } }])) return;
    rememberAudience(plan, audience);
    onClose();
  };
  return (
    <Dialog title={`For whom: ${names(items)}`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <AudienceChooser audience={audience} onChange={setAudience} />
        <Draft onClose={onClose} words={`Draft for ${names(items)}`} isDisabled={isForNobody(audience)} />
      </SubmitForm>
    </Dialog>
  );
}

/** What is selected becomes one for each group of a layer, with all beneath it. */
function EachDialog({ items, onClose }: DialogProps) {
  const { store, plan } = useWorkbench();
  const [layerId, setLayerId] = useState(withGroups(plan)[0]?.id ?? "");
  const [typed, setTyped] = useState<string | null>(null);
  const titles = items.map(({ title }) => title);
  const pattern = typed ?? usualPattern(plan, layerId, titles);
  const mistake = patternMistake(plan, layerId, pattern);
  const draft = () => {
    const itemIds = items.map(({ id }) => id);
    if (!store.draft([{ kind: "items.forEach", itemIds, layerId, pattern: pattern.trim() }])) return;
    onClose();
  };
  return (
    <Dialog title={`One for each group: ${names(items)}`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <EachOf layerId={layerId} choose={setLayerId} />
        <TextField
          label={items.length > 1 ? "Behind each title" : "Title"}
          value={pattern}
          onChange={setTyped}
          error={mistake?.sentence ?? false}
        />
        <p className={base.soft}>
          {names(items)}, with all beneath, {items.length === 1 ? "becomes" : "become"} the first group's, and is copied
          for the others. What people did stays with the first.
        </p>
        <Draft onClose={onClose} words="Draft one for each" isDisabled={mistake !== null || pattern.trim() === ""} />
      </SubmitForm>
    </Dialog>
  );
}

function ConditionDialog({ items, onClose }: DialogProps) {
  const { store } = useWorkbench();
  const [first] = items as [Item];
  const [{ condition, variants }, set] = useState<Pick<Item, "condition" | "variants">>(first);
  const draft = () => {
    if (store.draft([{ kind: "items.change", itemIds: items.map(({ id }) => id), fields: { condition, variants } }]))
      onClose();
  };
  return (
    <Dialog title={`Condition of ${names(items)}`} onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        <Conditions item={{ ...first, condition, variants }} onChange={set} />
        <Draft onClose={onClose} words={`Draft for ${names(items)}`} />
      </SubmitForm>
    </Dialog>
  );
}

function SplitDialog({ items, onClose }: DialogProps) {
  const { store } = useWorkbench();
  const fitting = items.filter(({ kind }) => splitKinds.has(kind));
  const [split, setSplit] = useState(fitting[0]?.split ?? null);
  const draft = () => {
    if (store.draft([{ kind: "items.change", itemIds: fitting.map(({ id }) => id), fields: { split } }])) onClose();
  };
  return (
    <Dialog title={`Split ${names(fitting)}`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <SplitField split={split} onChange={setSplit} />
        <Draft onClose={onClose} words={`Draft for ${names(fitting)}`} />
      </SubmitForm>
    </Dialog>
  );
}

function MoveDialog({ items, onClose }: DialogProps) {
  const { store, plan } = useWorkbench();
  const [folder, setFolder] = useState(top);
  const itemIds = items.map(({ id }) => id);
  const parentId = folderOf(folder);
  const move = () => {
    if (store.draft([{ kind: "items.move", itemIds, parentId, before: null }])) onClose();
  };
  const copy = () => {
    if (store.draft([{ kind: "items.copy", itemIds, parentId }])) onClose();
  };
  return (
    <Dialog title={`Move or copy ${names(items)}`} onClose={onClose}>
      <SubmitForm onSubmit={move}>
        <Choice label="To" value={folder} onChange={setFolder} options={folderOptions(plan, new Set(itemIds))} />
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button onPress={copy}>Copy there</Button>
          <Button strong type="submit">
            Move there
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

function PagesDialog({ items, onClose }: DialogProps) {
  const { store, plan } = useWorkbench();
  const { layers, groupsOfLayer } = lookup(plan);
  const [layerId, setLayerId] = useState(layers[0]?.id ?? "");
  const itemIds = items.map(({ id }) => id);
  const count = groupsOfLayer.get(layerId)?.length ?? 0;
  const put = (how: "shared" | "copied") => {
    if (store.draft([{ kind: "items.onPages", itemIds, layerId, how }])) onClose();
  };
  return (
    <Dialog title={`${names(items)} on the pages of groups`} onClose={onClose}>
      <SubmitForm onSubmit={() => put("shared")}>
        <Choice
          label="All groups of"
          value={layerId}
          onChange={setLayerId}
          options={layers.map(({ id, name }) => ({
            value: id,
            label: name,
            aside: groupsOfLayer.get(id)?.length ?? 0,
          }))}
        />
        <p className={base.soft}>
          A group without a page gets one: a folder that only the group can enter. Shared, it stays one item with an
          entrance on each page; copied, each group has its own.
        </p>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button onPress={() => put("copied")} isDisabled={count === 0}>
            Copy to {plural(count, "page")}
          </Button>
          <Button strong type="submit" isDisabled={count === 0}>
            Share on {plural(count, "page")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

function CombineDialog({ items, onClose, done }: DialogProps & { done(): void }) {
  const { store, plan } = useWorkbench();
  const layers = lookup(plan).layers.filter((layer) => !layer.private);
  const [layerId, setLayerId] = useState(plan.course.splitting?.layerId ?? layers[0]?.id ?? "");
  const [between, setBetween] = useState<Between>(plan.course.splitting?.between ?? "sealed");
  const combine = () => {
    if (!store.draft([{ kind: "items.combine", itemIds: items.map(({ id }) => id), layerId, between }])) return;
    onClose();
    done();
  };
  return (
    <Dialog title={`Make one split item of ${items.length} copies`} onClose={onClose}>
      <SubmitForm onSubmit={combine}>
        <p className={base.soft}>
          {items.map(({ title }) => title).join(", ")} become one item with one column in the gradebook. Posts, hand-ins
          and marks stay with whose they are, and each group keeps its own dates and condition.
        </p>
        <Choice
          label="A thread for each group of"
          value={layerId}
          onChange={setLayerId}
          options={layers.map(({ id, name }) => ({ value: id, label: name }))}
        />
        <Choice label="Between groups" value={between} onChange={setBetween} options={betweenWords} />
        <Draft onClose={onClose} words="Draft the one item" />
      </SubmitForm>
    </Dialog>
  );
}

const Draft = ({ onClose, words, isDisabled = false }: { onClose(): void; words: string; isDisabled?: boolean }) => (
  <Actions>
    <Button onPress={onClose}>Leave</Button>
    <Button strong type="submit" isDisabled={isDisabled}>
      {words}
    </Button>
  </Actions>
);
