import { useEffect, useMemo, useState } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import { v7 } from "uuid";
import { countLayer, type LayerCount } from "../../../core/placement/membership.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import type { Layer } from "../../../core/plan/types.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Chip } from "../../kit/Chip.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { plural } from "../../kit/words.ts";
import base from "../station.module.css";
import { Board } from "./board/Board.tsx";
import { GroupDialog, LayerDialog } from "./dialogs.tsx";
import { FormGroups } from "./forming/FormGroups.tsx";
import { GroupFiles } from "./GroupFiles.tsx";
import { GroupTable } from "./groups/GroupTable.tsx";
import { GroupWhy } from "./groups/GroupWhy.tsx";
import { LayerWhy } from "./LayerWhy.tsx";
import { PasteList } from "./PasteList.tsx";
import { PeopleList } from "./PeopleList.tsx";
import { PersonWhy } from "./PersonWhy.tsx";
import styles from "./placement.module.css";
import { SideBySide } from "./SideBySide.tsx";
import type { Shown } from "./shown.ts";
import { WeaveStrip } from "./WeaveStrip.tsx";

export function Placement() {
  const { state, plan, t, reach } = useBench();
  const { layers } = lookup(plan);
  const [layerId, setLayerId] = useState<string | null>(null);
  const [dialog, setDialog] = useState<"layer" | "group" | "files" | null>(null);
  const [forming, setForming] = useState(false);
  const [pasting, setPasting] = useState(false);
  const [view, setView] = useState<View>("threads");
  /** Layers that the threads run on into, beside the one that is open. */
  const [further, setFurther] = useState<string[]>([]);
  const [shown, setShown] = useState<Shown>({ title: "Everyone", personIds: null });
  const [personId, setPersonId] = useState<string | null>(null);
  const [groupId, setGroupId] = useState<string | null>(null);
  const { target } = state;
  useEffect(() => {
    if (target?.kind === "person") setPersonId(target.id);
    const found = target?.kind === "group" ? plan.groups[target.id] : undefined;
    if (!found) return;
    setLayerId(found.layerId);
    setGroupId(found.id);
  }, [target, plan.groups]);

  const layer = layers.find(({ id }) => id === layerId) ?? layers[0];
  const counts = useMemo(
    () => layers.map(({ id }) => countLayer(plan, id, t, reach.students)),
    [layers, plan, t, reach.students],
  );
  const count = counts.find((one) => one.layer.id === layer?.id);
  const onInto = useMemo(
    () => further.flatMap((id) => (id === layer?.id ? [] : (counts.find((one) => one.layer.id === id) ?? []))),
    [further, counts, layer?.id],
  );
  const follows = layers.some(({ following }) => following !== null);
  const choose = (id: string) => {
    setLayerId(id);
    setGroupId(null);
    setShown({ title: "Everyone", personIds: null });
  };

  const head = (
    <>
      {layers.length > 0 && (
        <TabList
          aria-label="Layers"
          className={styles.tabs as string}
          items={counts.map((one) => ({ ...one, id: one.layer.id }))}
          dependencies={[counts]}
        >
          {(one) => (
            <Tab id={one.id} className={styles.tab as string}>
              {one.layer.name}
              {needs(one) > 0 && <span className={base.wrong}>{needs(one)}</span>}
            </Tab>
          )}
        </TabList>
      )}
      <span className={base.push} />
      <Button onPress={() => setDialog("layer")}>New layer</Button>
    </>
  );
  const openGroups = () => setDialog("group");
  const form = (
    <FormGroups
      key={layer?.id}
      layer={layer}
      onClose={() => setForming(false)}
      onKept={(id) => {
        setForming(false);
        choose(id);
      }}
    />
  );
  const everyone = { title: "Everyone", personIds: null };
  return (
    <>
      <Tabs
        className={base.station as string}
        selectedKey={layer?.id ?? ""}
        onSelectionChange={(key) => choose(String(key))}
      >
        <div className={base.head}>
          <h2>Placement</h2>
          {head}
        </div>
        {!follows && !forming && <SectionGroupsOffer />}
        {forming && !layer && form}
        {count && layer && (
          <TabPanel key={layer.id} id={layer.id} className={styles.panel as string}>
            {forming ? (
              form
            ) : (
              <>
                <Figures
                  count={count}
                  show={(next) => {
                    setShown(next);
                    if (view !== "threads") setView("threads");
                  }}
                  view={view}
                  setView={setView}
                  addGroup={openGroups}
                  form={() => setForming(true)}
                  paste={() => setPasting(true)}
                />
                {view === "board" && <Board key={layer.id} count={count} onWhy={setPersonId} />}
                {view === "layers" && <SideBySide counts={counts} chosen={personId} choose={setPersonId} />}
                {view === "groups" && (
                  <GroupTable
                    key={layer.id}
                    count={count}
                    chosen={groupId}
                    choose={(id) => {
                      setGroupId(id);
                      setPersonId(null);
                    }}
                  />
                )}
                {view === "threads" && (
                  <div className={styles.halves} data-wide={further.length > 0 || undefined}>
                    <div className={styles.stripSide}>
                      <OnInto layer={layer} further={further} setFurther={setFurther} />
                      <WeaveStrip count={count} further={onInto} show={setShown} />
                    </div>
                    <PeopleList
                      key={layer.id}
                      count={count}
                      shown={shown}
                      showAll={() => setShown(everyone)}
                      chosen={personId}
                      choose={setPersonId}
                    />
                  </div>
                )}
              </>
            )}
          </TabPanel>
        )}
      </Tabs>
      {dialog === "layer" && (
        <LayerDialog onClose={() => setDialog(null)} onMade={choose} fromFile={() => setDialog("files")} />
      )}
      {dialog === "files" && <GroupFiles layer={layer} onClose={() => setDialog(null)} />}
      {dialog === "group" && layer && <GroupDialog layer={layer} onClose={() => setDialog(null)} />}
      {pasting && count && <PasteList count={count} onClose={() => setPasting(false)} />}
      <Why>
        {personId ? (
          <PersonWhy personId={personId} />
        ) : groupId && plan.groups[groupId] ? (
          <GroupWhy groupId={groupId} />
        ) : (
          layer && <LayerWhy layer={layer} onLayer={choose} files={() => setDialog("files")} />
        )}
      </Why>
    </>
  );
}

/** Further layers for the threads to run on into: three are as many as can be read. */
function OnInto(props: { layer: Layer; further: string[]; setFurther(ids: string[]): void }) {
  const { layer, further, setFurther } = props;
  const { plan } = useBench();
  const others = lookup(plan).layers.filter(({ id }) => id !== layer.id && !further.includes(id));
  return (
    <div className={styles.onInto}>
      {further.map((id) => {
        const name = plan.layers[id]?.name ?? "";
        return (
          <Chip key={id} name={`on into ${name}`} onLeaveOut={() => setFurther(further.filter((one) => one !== id))} />
        );
      })}
      {further.length < 2 && others.length > 0 && (
        <Choice
          label="On into"
          hideLabel
          placeholder="On into another layer"
          value={null}
          options={others.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => setFurther([...further, id])}
        />
      )}
    </div>
  );
}

/** In a course that has people already, one press makes the section groups. */
function SectionGroupsOffer() {
  const { store, plan } = useBench();
  const sections = Object.keys(plan.sections).length;
  const taken = lookup(plan).layers.some(({ name }) => name === "Sections");
  return (
    <div className={styles.offer}>
      <span>
        {sections === 0
          ? "Take a roster in first: section groups are made from its sections."
          : `The ${plural(sections, "section")} of this course have no groups yet.`}
      </span>
      <Button
        strong
        isDisabled={sections === 0}
        onPress={() =>
          store.draft([
            {
              kind: "layer.followSections",
              layerId: v7(),
              name: taken ? "Section groups" : "Sections",
            },
          ])
        }
      >
        A group for each section
      </Button>
    </div>
  );
}

const needs = ({ layer, unplaced, inTwo, together }: LayerCount) =>
  (layer.rule === "exactly one" ? unplaced.length : 0) + inTwo.length + together.length;

type View = "threads" | "board" | "groups" | "layers";
const views: [View, string][] = [
  ["threads", "Threads"],
  ["board", "Board"],
  ["groups", "Groups"],
  ["layers", "Side by side"],
];

interface FiguresProps {
  count: LayerCount;
  show(shown: Shown): void;
  view: View;
  setView(view: View): void;
  addGroup(): void;
  form(): void;
  paste(): void;
}
function Figures({ count, show, view, setView, addGroup, form, paste }: FiguresProps) {
  const { store } = useBench();
  const { unplaced, inTwo, together, held, placed, groups, layer } = count;
  const small = groups.filter(({ group, personIds }) => group.min !== null && personIds.length < group.min).length;
  const full = groups.filter(({ group, personIds }) => group.max !== null && personIds.length > group.max).length;
  const wrongIf = (bad: boolean) => (bad ? base.wrong : "");
  return (
    <div className={base.figures}>
      <span>
        <strong>{placed}</strong> placed
      </span>
      <button
        type="button"
        className={`${base.plainButton} ${wrongIf(layer.rule === "exactly one" && unplaced.length > 0)}`}
        onClick={() => show({ title: "Unplaced", personIds: unplaced })}
      >
        <strong>{unplaced.length}</strong> unplaced
      </button>
      {layer.rule !== "any number" && (
        <button
          type="button"
          className={`${base.plainButton} ${wrongIf(inTwo.length > 0)}`}
          onClick={() => show({ title: "In two groups", personIds: inTwo })}
        >
          <strong>{inTwo.length}</strong> in two
        </button>
      )}
      <span>
        <strong>{held}</strong> held
      </span>
      <span>
        <strong>{groups.length}</strong> {groups.length === 1 ? "group" : "groups"}
      </span>
      {small > 0 && (
        <span className={base.wrong}>
          <strong>{small}</strong> too small
        </span>
      )}
      {full > 0 && (
        <span className={base.wrong}>
          <strong>{full}</strong> too full
        </span>
      )}
      {together.length > 0 && (
        <button
          type="button"
          className={`${base.plainButton} ${base.wrong}`}
          onClick={() =>
            show({
              title: "Kept apart, and together",
              personIds: together.flatMap(({ personIds }) => personIds),
            })
          }
        >
          <strong>{together.length}</strong> kept apart, and together
        </button>
      )}
      <span className={base.push}>
        {layer.following === null && layer.rule === "exactly one" && unplaced.length > 0 && groups.length > 0 && (
          <Button quiet onPress={() => store.draft([{ kind: "layer.topUp", layerId: layer.id }])}>
            Place the {unplaced.length} unplaced
          </Button>
        )}
        <span className={styles.views} role="group" aria-label="View">
          {views.map(([id, name]) => (
            <Toggle key={id} isSelected={view === id} onChange={() => setView(id)}>
              {name}
            </Toggle>
          ))}
        </span>{" "}
        {groups.length > 0 && (
          <Button quiet onPress={paste}>
            Paste a list
          </Button>
        )}
        <Button quiet onPress={form}>
          Form groups
        </Button>
        <Button quiet onPress={addGroup}>
          New group
        </Button>
      </span>
    </div>
  );
}
