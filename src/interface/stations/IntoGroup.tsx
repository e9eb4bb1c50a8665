/** Some people, on any screen, become a group or join one. */
import { useState } from "react";
import { v7 } from "uuid";
import { nextStripe } from "../../core/placement/stripes.ts";
import { lookup } from "../../core/plan/lookup.ts";
import { blankGroup, blankLayer, type Layer, type Plan } from "../../core/plan/types.ts";
import { Button } from "../kit/Button.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { plural } from "../kit/words.ts";
import { useWorkbench } from "../workbench/context.tsx";
import type { NewCommand } from "../workbench/store.ts";
import { RuleChoice } from "./placement/dialogs.tsx";
import base from "./station.module.css";

interface IntoProps {
  personIds: readonly string[];
  /** Whether it stands among quiet buttons. */
  quiet?: boolean;
  onDone?(): void;
}

export function IntoGroup({ personIds, quiet, onDone }: IntoProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button quiet={quiet ?? false} isDisabled={personIds.length === 0} onPress={() => setOpen(true)}>
        Into a group
      </Button>
      {open && <IntoDialog personIds={personIds} onClose={() => setOpen(false)} onDone={onDone} />}
    </>
  );
}

/** What puts some people into a group: `new` in place of an id makes the layer, or the group. */
function intoGroup(
  plan: Plan,
  layer: { id: string; title: string; rule: Layer["rule"]; isPrivate: boolean; withPage: boolean },
  group: { id: string; name: string },
  personIds: readonly string[],
): NewCommand[] {
  const commands: NewCommand[] = [];
  const layerId = layer.id === "new" ? v7() : layer.id;
  if (layer.id === "new") {
    const fields = { position: Object.keys(plan.layers).length, name: layer.title, rule: layer.rule };
    commands.push({ kind: "layer.add", layer: { ...blankLayer, ...fields, id: layerId, private: layer.isPrivate } });
  }
  const groupId = group.id === "new" ? v7() : group.id;
  if (group.id === "new") {
    const { name } = group;
    const stripe = nextStripe(name, lookup(plan).allGroupsOfLayer.get(layerId) ?? []);
    const position = lookup(plan).groupsOfLayer.get(layerId)?.length ?? 0;
    commands.push({
      kind: "group.add",
      group: { ...blankGroup, id: groupId, layerId, position, name, label: name, stripe },
    });
  }
  commands.push({ kind: "placement.place", groupId, personIds: [...personIds] });
  if (layer.id === "new" && layer.withPage)
    commands.push({ kind: "items.onPages", itemIds: [], layerId, how: "shared" });
  return commands;
}

function IntoDialog({ personIds, onClose, onDone }: Omit<IntoProps, "quiet"> & { onClose(): void }) {
  const { store, plan, state } = useWorkbench();
  const { layers, groupsOfLayer } = lookup(plan);
  const mayMake = state.scope === null;
  // A new layer moves nobody out of any other group: that is what some people picked out most often want.
  const [layerId, setLayerId] = useState(mayMake ? "new" : (layers[0]?.id ?? "new"));
  const [groupId, setGroupId] = useState("new");
  const [layerName, setLayerName] = useState<string | null>(null);
  const [rule, setRule] = useState<Layer["rule"]>("any number");
  const [isPrivate, setPrivate] = useState(false);
  const [withPage, setWithPage] = useState(false);
  const [name, setName] = useState("");
  const groups = groupsOfLayer.get(layerId) ?? [];
  const isNew = groupId === "new";
  const layerTitle = (layerName ?? name).trim();
  const isReady = (layerId !== "new" || layerTitle !== "") && (!isNew || name.trim() !== "");
  const draft = () => {
    const layer = { id: layerId, title: layerTitle, rule, isPrivate, withPage };
    if (!store.draft(intoGroup(plan, layer, { id: groupId, name: name.trim() }, personIds))) return;
    onClose();
    onDone?.();
  };
  return (
    <Dialog title={`${plural(personIds.length, "person", "people")} into a group`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        {isNew && <TextField label="Name of the group" value={name} onChange={setName} autoFocus />}
        <Choice
          label="Of the layer"
          value={layerId}
          onChange={(id) => {
            setLayerId(id);
            setGroupId("new");
          }}
          options={[
            ...(mayMake ? [{ value: "new", label: "a new layer: it moves nobody" }] : []),
            ...layers.map((one) => ({ value: one.id, label: one.name })),
          ]}
        />
        {layerId === "new" && (
          <>
            <TextField label="Name of the layer" value={layerName ?? name} onChange={setLayerName} />
            <RuleChoice rule={rule} setRule={setRule} />
            <Checkbox isSelected={isPrivate} onChange={setPrivate}>
              Private: students do not learn that it exists
            </Checkbox>
            <Checkbox isSelected={withPage} onChange={setWithPage}>
              With a page of its own: a folder that only they can enter
            </Checkbox>
          </>
        )}
        {layerId !== "new" && (
          <Choice
            label="They go into"
            value={groupId}
            onChange={setGroupId}
            options={[
              { value: "new", label: "a new group" },
              ...groups.map((group) => ({ value: group.id, label: group.name })),
            ]}
          />
        )}
        {plan.layers[layerId]?.rule !== "any number" && layerId !== "new" && (
          <p className={base.soft}>Whoever is in another group of this layer leaves it.</p>
        )}
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
