import { useState } from "react";
import type { Item, Moment } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox, Choice } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import { MomentField } from "../../MomentField.tsx";
import base from "../../station.module.css";
import { folderOf, folderOptions, top } from "./folders.ts";

interface OpenProps {
  item: Item;
  parentId: string | null;
  onClose(): void;
}

/** Opening to others what lives in a folder for some: now, or at a moment. */
export function OpenDialog({ item, parentId, onClose }: OpenProps) {
  const { store, plan, t } = useWorkbench();
  const [folder, setFolder] = useState(parentId ?? top);
  const [at, setAt] = useState<Moment | null>(null);
  const open = () => {
    if (store.draft([{ kind: "item.openToOthers", itemId: item.id, parentId: folderOf(folder), at }])) onClose();
  };
  return (
    <Dialog title={`Open ${item.title} to others`} onClose={onClose}>
      <SubmitForm onSubmit={open}>
        <p className={base.soft}>
          Its home moves to where they are, and it becomes for whoever comes there. Its first people keep it, and find
          it in its old folder as well.
        </p>
        <Choice
          label="They find it in"
          value={folder}
          onChange={setFolder}
          options={folderOptions(plan, new Set([item.id]))}
        />
        <Checkbox
          isSelected={at !== null}
          onChange={(later) => setAt(later ? `${new Date(t).toISOString().slice(0, 10)}T09:00` : null)}
        >
          Not before a moment
        </Checkbox>
        {at !== null && <MomentField label="Open to them from" value={at} onChange={setAt} />}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit">
            Draft the opening
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
