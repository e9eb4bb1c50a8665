/** Some people, on any screen, become a group or join one. */
import { useState } from "react";
import { v7 } from "uuid";
import { nextStripe } from "../../core/placement/stripes.ts";
import { lookup } from "../../core/plan/lookup.ts";
import { blankGroup, blankLayer, type Layer } from "../../core/plan/types.ts";
import { Button } from "../kit/Button.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { Choice, TextField } from "../kit/Fields.tsx";
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

function IntoDialog({ personIds, onClose, onDone }: Omit<IntoProps, "quiet"> & { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const { layers, groupsOfLayer } = lookup(plan);
  const [layerId, setLayerId] = useState(layers[0]?.id ?? "new");
  const [groupId, setGroupId] = useState("new");
  const [layerName, setLayerName] = useState("");
  const [rule, setRule] = useState<Layer["rule"]>("any number");
  const [name, setName] = useState("");
  const groups = groupsOfLayer.get(layerId) ?? [];
  const isNew = groupId === "new";
  const isReady = (layerId !== "new" || layerName.trim() !== "") && (!isNew || name.trim() !== "");
  const draft = () => {
    const commands: NewCommand[] = [];
    const own = layerId === "new" ? v7() : layerId;
    if (layerId === "new") {
      const layer = { ...blankLayer, id: own, position: Object.keys(plan.layers).length, name: layerName.trim(), rule };
      commands.push({ kind: "layer.add", layer });
    }
    const target = isNew ? v7() : groupId;
    if (isNew) {
      const title = name.trim();
      const stripe = nextStripe(title, lookup(plan).allGroupsOfLayer.get(own) ?? []);
      const group = {
        ...blankGroup,
        id: target,
        layerId: own,
        position: groups.length,
        name: title,
        label: title,
        stripe,
      };
      commands.push({ kind: "group.add", group });
    }
    commands.push({ kind: "placement.place", groupId: target, personIds: [...personIds] });
    if (!store.draft(commands)) return;
    onClose();
    onDone?.();
  };
  return (
    <Dialog title={`${plural(personIds.length, "person", "people")} into a group`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <Choice
          label="Of the layer"
          value={layerId}
          onChange={(id) => {
            setLayerId(id);
            setGroupId("new");
          }}
          options={[
            ...layers.map((one) => ({ value: one.id, label: one.name })),
            { value: "new", label: "a new layer" },
          ]}
        />
        {layerId === "new" && (
          <>
            <TextField label="Name of the layer" value={layerName} onChange={setLayerName} />
            <RuleChoice rule={rule} setRule={setRule} />
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
        {isNew && <TextField label="Name of the group" value={name} onChange={setName} autoFocus />}
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
