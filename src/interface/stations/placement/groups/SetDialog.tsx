import { useState } from "react";
import { v7 } from "uuid";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { NamedSet } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Chip } from "../../../kit/Chip.tsx";
import kit from "../../../kit/controls.module.css";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice, TextField } from "../../../kit/Fields.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";

interface SetProps {
  /** An existing one, or the groups that a new one begins with. */
  set: NamedSet | string[];
  onClose(): void;
}

/** Groups of any layers under one name, which can be an audience, have dates and be filtered by. */
export function SetDialog({ set, onClose }: SetProps) {
  const { store, plan } = useWorkbench();
  const existing = Array.isArray(set) ? null : set;
  const [name, setName] = useState(existing?.name ?? "");
  const [groupIds, setGroupIds] = useState(Array.isArray(set) ? set : set.groupIds);
  const { layers, groupsOfLayer } = lookup(plan);
  const others = layers.flatMap((layer) =>
    (groupsOfLayer.get(layer.id) ?? [])
      .filter(({ id }) => !groupIds.includes(id))
      .map(({ id, name: own }) => ({ value: id, label: own, aside: layer.name })),
  );
  const draft = () =>
    store.draft([{ kind: "set.save", set: { id: existing?.id ?? v7(), name: name.trim(), groupIds } }]) && onClose();
  return (
    <Dialog title={existing ? existing.name : "New set of groups"} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <TextField label="Name of the set" value={name} onChange={setName} autoFocus />
        <Choice
          label="Its groups"
          placeholder="Add a group of any layer"
          value={null}
          options={others}
          onChange={(id) => setGroupIds([...groupIds, id])}
        />
        <div className={kit.chips}>
          {groupIds.map((id) => {
            const group = plan.groups[id];
            return (
              group && (
                <Chip
                  key={id}
                  name={group.name}
                  onLeaveOut={() => setGroupIds(groupIds.filter((other) => other !== id))}
                >
                  <Stripe stripe={group.stripe} isPrivate={plan.layers[group.layerId]?.private} />
                </Chip>
              )
            );
          })}
        </div>
        <p className={base.soft}>Whoever is in any of them is in the set. Students never read its name.</p>
        <Actions>
          {existing && (
            <Button onPress={() => store.draft([{ kind: "set.remove", setId: existing.id }]) && onClose()}>
              Remove the set
            </Button>
          )}
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={name.trim() === ""}>
            Draft the set
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
