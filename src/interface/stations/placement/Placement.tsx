import { useEffect, useMemo, useState } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import { v7 } from "uuid";
import { countLayer, type LayerCount } from "../../../core/placement/membership.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Fetched, partOf } from "../../kit/fetched.tsx";
import { plural } from "../../kit/words.ts";
import {
  useActions,
  useParts,
  usePlace,
  useSelected,
  useStudents,
  useWorkbench,
  Why,
} from "../../workbench/context.tsx";
import { LayerChoice } from "../../workbench/LayerChoice.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { IntoGroup } from "../IntoGroup.tsx";
import base from "../station.module.css";
import { GroupDialog, LayerDialog, type NewLayerFile } from "./dialogs.tsx";
import { Figures, type View } from "./Figures.tsx";
import { Flow } from "./Flow.tsx";
import { GroupTable } from "./groups/GroupTable.tsx";
import { GroupWhy } from "./groups/GroupWhy.tsx";
import { LayerWhy } from "./LayerWhy.tsx";
import { PeopleList } from "./PeopleList.tsx";
import { PersonWhy } from "./PersonWhy.tsx";
import styles from "./placement.module.css";
import { SideBySide } from "./SideBySide.tsx";
import type { Shown } from "./shown.ts";

const board = partOf(async () => (await import("./board/Board.tsx")).Board);
const formGroups = partOf(async () => (await import("./forming/FormGroups.tsx")).FormGroups);
const groupFiles = partOf(async () => (await import("./GroupFiles.tsx")).GroupFiles);
const pasteList = partOf(async () => (await import("./PasteList.tsx")).PasteList);

const everyone: Shown = { title: "Everyone", personIds: null };

export function Placement() {
  const { plan, t } = useWorkbench();
  const state = useParts("target");
  const students = useStudents();
  const { layers } = lookup(plan);
  const [layerId, setLayerId] = useSelected("layer");
  const [dialog, setDialog] = useState<"layer" | "group" | "files" | null>(null);
  const [asNew, setAsNew] = useState<NewLayerFile | null>(null);
  const [forming, setForming] = useState(false);
  const [pasting, setPasting] = useState(false);
  const [view, setView] = usePlace<View>("placement.view", "flow");
  const [shown, setShown] = useState<Shown>(everyone);
  const [personId, setPersonId] = useSelected("person");
  const [groupId, setGroupId] = useSelected("group");
  const openLayer = () => setDialog("layer");
  const openGroups = () => setDialog("group");
  const openFiles = () => setDialog("files");
  useActions({
    "new layer": openLayer,
    "new group": openGroups,
    "group files": openFiles,
    form: () => setForming(true),
    "paste people": () => setPasting(true),
  });
  const { target } = state;
  useEffect(() => {
    if (target?.kind === "person") setPersonId(target.id);
    const found = target?.kind === "group" ? plan.groups[target.id] : undefined;
    if (!found) return;
    setLayerId(found.layerId);
    setGroupId(found.id);
  }, [target, plan.groups, setPersonId, setLayerId, setGroupId]);

  const layer = layers.find(({ id }) => id === layerId) ?? layers[0];
  const counts = useMemo(() => layers.map(({ id }) => countLayer(plan, id, t, students)), [layers, plan, t, students]);
  const count = counts.find((one) => one.layer.id === layer?.id);
  const follows = layers.some(({ following }) => following !== null);
  const choose = (id: string) => {
    setLayerId(id);
    setGroupId(null);
    setShown(everyone);
  };

  const head = (
    <>
      <div className={styles.layers} data-many={layers.length > 4 || undefined}>
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
        {layers.length > 4 && <LayerChoice layer={layer} choose={choose} says={`All ${layers.length} layers`} />}
      </div>
      <CoordinatorOnly>
        <IntoGroup personIds={[]} says="Group some people" /> <Button onPress={openLayer}>New layer</Button>
      </CoordinatorOnly>
    </>
  );
  const form = (
    <Fetched
      key={layer?.id}
      part={formGroups}
      props={{
        layer,
        onClose: () => setForming(false),
        onKept: (id: string) => {
          setForming(false);
          choose(id);
        },
      }}
    />
  );
  return (
    <>
      <Tabs
        className={base.station as string}
        selectedKey={layer?.id ?? ""}
        onSelectionChange={(key) => choose(String(key))}
      >
        <div className={`${base.head} ${styles.oneRow}`}>
          <h2>Placement</h2>
          {head}
        </div>
        {!follows && !forming && (
          <CoordinatorOnly>
            <SectionGroupsOffer />
          </CoordinatorOnly>
        )}
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
                    if (view !== "flow") setView("flow");
                  }}
                  view={view}
                  setView={setView}
                  addGroup={openGroups}
                  form={() => setForming(true)}
                />
                {view === "board" && <Fetched key={layer.id} part={board} props={{ count, onWhy: setPersonId }} />}
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
                {view === "flow" && (
                  <Flow count={count} counts={counts} show={setShown}>
                    <PeopleList
                      key={layer.id}
                      count={count}
                      shown={shown}
                      showAll={() => setShown(everyone)}
                      chosen={personId}
                      choose={setPersonId}
                      paste={() => setPasting(true)}
                    />
                  </Flow>
                )}
              </>
            )}
          </TabPanel>
        )}
      </Tabs>
      {dialog === "layer" && (
        <LayerDialog
          onClose={() => setDialog(null)}
          onMade={choose}
          fromFile={(as) => {
            setAsNew(as);
            openFiles();
          }}
        />
      )}
      {dialog === "files" && (
        <Fetched
          part={groupFiles}
          props={{
            layer,
            asNew,
            onClose: () => {
              setDialog(null);
              setAsNew(null);
            },
          }}
        />
      )}
      {dialog === "group" && layer && <GroupDialog layer={layer} onClose={() => setDialog(null)} />}
      {pasting && count && <Fetched part={pasteList} props={{ count, onClose: () => setPasting(false) }} />}
      <Why>
        {personId ? (
          <PersonWhy personId={personId} />
        ) : groupId && plan.groups[groupId] ? (
          <GroupWhy groupId={groupId} />
        ) : (
          <>
            {layer && <LayerWhy layer={layer} onLayer={choose} files={openFiles} />}
            {!layer && (
              <p className={base.soft}>
                A layer is one way of dividing the people of the course: by section, into teams, by support plan. A
                private layer is never seen by any student.
              </p>
            )}
          </>
        )}
      </Why>
    </>
  );
}

/** In a course that has people already, one press makes the section groups. */
function SectionGroupsOffer() {
  const { store, plan } = useWorkbench();
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
