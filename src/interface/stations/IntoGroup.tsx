/** Some people, on any screen, become a group or join one. */
import { useState } from "react";
import { v7 } from "uuid";
import { intoGroup } from "../../core/placement/groups/into-group.ts";
import { lookup } from "../../core/plan/lookup.ts";
import type { Item, Layer, Target } from "../../core/plan/types.ts";
import { listBits } from "../../core/sets/bits.ts";
import { Button } from "../kit/Button.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { plural } from "../kit/words.ts";
import { useParts, useReach, useSelected, useWorkbench } from "../workbench/context.tsx";
import { GivenTo } from "./GivenTo.tsx";
import { RuleChoice } from "./placement/dialogs.tsx";
import { FileField } from "./reach/items/FileField.tsx";
import base from "./station.module.css";
import { Targets } from "./Targets.tsx";

interface IntoProps {
  /** Who was chosen; where it is nobody, the dialog asks. */
  personIds: readonly string[];
  /** Whether it stands among quiet buttons. */
  quiet?: boolean;
  /** What the button says where there is another beside it. */
  says?: string;
  onDone?(): void;
}

export function IntoGroup({ personIds, quiet, says = "Into a group", onDone }: IntoProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button quiet={quiet ?? false} onPress={() => setOpen(true)}>
        {says}
      </Button>
      {open && <IntoDialog personIds={personIds} onClose={() => setOpen(false)} onDone={onDone} />}
    </>
  );
}

/** What the dialog holds. `layerId`, `groupId`: "new" for one that is made. */
interface Filled {
  layerId: string;
  groupId: string;
  name: string;
  /** Null: as the group. */
  layerName: string | null;
  rule: Layer["rule"];
  isPrivate: boolean;
  withPage: boolean;
  /** Staff who are given the group. */
  staffIds: string[];
  message: string;
  file: Item["file"];
}

function IntoDialog({ personIds, onClose, onDone }: Omit<IntoProps, "quiet"> & { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const state = useParts("scope");
  const [, selectLayer] = useSelected("layer");
  const [, selectGroup] = useSelected("group");
  const [, selectPerson] = useSelected("person");
  const [named, setNamed] = useState<Target[]>([]);
  const people = usePeople(personIds, named);
  // A new layer moves nobody out of any other group, and nobody learns of a private one: that is what some people
  // picked out most often want.
  const [filled, setFilled] = useState<Filled>({
    layerId: state.scope === null ? "new" : (lookup(plan).layers[0]?.id ?? "new"),
    groupId: "new",
    name: "",
    layerName: null,
    rule: "any number",
    isPrivate: true,
    withPage: true,
    staffIds: [],
    message: "",
    file: null,
  });
  const set = (fields: Partial<Filled>) => setFilled({ ...filled, ...fields });
  const name = filled.name.trim();
  const isNew = filled.groupId === "new";
  const isReady = people.length > 0 && (!isNew || name !== "");
  const draft = () => {
    const { rule, isPrivate, withPage, layerName, message, file } = filled;
    const layer =
      filled.layerId === "new"
        ? { name: (layerName ?? name).trim() || name, rule, isPrivate, withPage }
        : { id: filled.layerId };
    const made = intoGroup(
      plan,
      { layer, group: isNew ? { name } : { id: filled.groupId }, personIds: [...people, ...filled.staffIds], file },
      v7,
    );
    if (!store.draft(made.commands)) return;
    // Nobody is in the group until it is published, and a private group's name is none of theirs to read.
    if (message.trim() !== "") void store.addMessage([{ kind: "group", id: made.groupId }], message);
    selectLayer(made.layerId);
    selectPerson(null);
    selectGroup(made.groupId);
    onClose();
    onDone?.();
  };
  return (
    <Dialog
      title={personIds.length === 0 ? "Into a group" : `${plural(personIds.length, "person", "people")} into a group`}
      onClose={onClose}
    >
      <SubmitForm onSubmit={draft}>
        {personIds.length === 0 && <Targets label="Who" targets={named} onChange={setNamed} />}
        {isNew && (
          <TextField
            label="Name of the group"
            value={filled.name}
            onChange={(name) => set({ name })}
            autoFocus={personIds.length > 0}
          />
        )}
        <WhichGroup filled={filled} set={set} />
        {state.scope === null && <ForThem filled={filled} set={set} />}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={!isReady}>
            Draft it
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

/** Who was chosen before, and whoever is named: of groups and sections, those in them now. */
function usePeople(personIds: readonly string[], named: Target[]): string[] {
  const reach = useReach();
  const of = (target: Target) =>
    target.kind === "person" ? [target.id] : listBits(reach.members(target)).map((at) => reach.students[at] ?? "");
  return [...new Set([...personIds, ...named.flatMap(of)])];
}

interface WhichProps {
  filled: Filled;
  set(fields: Partial<Filled>): void;
}

/** What comes with the group: staff who are given it, a message, a file. */
const ForThem = ({ filled, set }: WhichProps) => (
  <>
    <GivenTo staffIds={filled.staffIds} onChange={(staffIds) => set({ staffIds })} />
    <TextField
      label="Written to them with the publication"
      lines={2}
      value={filled.message}
      onChange={(message) => set({ message })}
      hint="Empty: nothing is written."
    />
    <FileField says="A file for them" file={filled.file} onChange={(file) => set({ file })} />
  </>
);

/** A layer and a group that are there, or new ones. */
function WhichGroup({ filled, set }: WhichProps) {
  const { plan } = useWorkbench();
  const state = useParts("scope");
  const { layers, groupsOfLayer } = lookup(plan);
  const { layerId, groupId } = filled;
  const groups = groupsOfLayer.get(layerId) ?? [];
  return (
    <>
      <Choice
        label="Of the layer"
        value={layerId}
        onChange={(id) => set({ layerId: id, groupId: "new" })}
        options={[
          ...(state.scope === null ? [{ value: "new", label: "a new layer: it moves nobody" }] : []),
          ...layers.map((one) => ({ value: one.id, label: one.name })),
        ]}
      />
      {layerId === "new" && <NewLayer filled={filled} set={set} />}
      {layerId !== "new" && (
        <Choice
          label="They go into"
          value={groupId}
          onChange={(id) => set({ groupId: id })}
          options={[
            { value: "new", label: "a new group" },
            ...groups.map((group) => ({ value: group.id, label: group.name })),
          ]}
        />
      )}
      {layerId !== "new" && plan.layers[layerId]?.rule !== "any number" && (
        <p className={base.soft}>Whoever is in another group of this layer leaves it.</p>
      )}
    </>
  );
}

const NewLayer = ({ filled, set }: WhichProps) => (
  <>
    <TextField
      label="Name of the layer"
      value={filled.layerName ?? filled.name}
      onChange={(layerName) => set({ layerName })}
    />
    <RuleChoice rule={filled.rule} setRule={(rule) => set({ rule })} />
    <Checkbox isSelected={filled.isPrivate} onChange={(isPrivate) => set({ isPrivate })}>
      Private: students do not learn that it exists
    </Checkbox>
    <Checkbox isSelected={filled.withPage} onChange={(withPage) => set({ withPage })}>
      With a page of its own: a folder that only they can enter
    </Checkbox>
  </>
);
