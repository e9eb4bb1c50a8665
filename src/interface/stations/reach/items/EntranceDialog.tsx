import { useMemo, useState } from "react";
import { v7 } from "uuid";
import { lastPosition } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { entranceIsShut, entranceLeaks } from "../../../../core/reach/outline/opening.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { folderOf, folderOptions, top } from "./folders.ts";
import { OpenDialog } from "./OpenDialog.tsx";

/** An extra entrance. Where it would show the item to others than it is meant for, which of the two is wanted is asked. */
export function EntranceDialog({ item, onClose }: { item: Item; onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const [folder, setFolder] = useState(top);
  const [opening, setOpening] = useState(false);
  const folderId = folderOf(folder);
  const { leaks, isShut } = useMemo(
    () => ({ leaks: entranceLeaks(plan, item.id, folderId, t), isShut: entranceIsShut(plan, item.id, folderId, t) }),
    [plan, item.id, folderId, t],
  );
  if (opening) return <OpenDialog item={item} parentId={folderId} onClose={onClose} />;
  const link = () => {
    const entrance = { id: v7(), itemId: item.id, folderId, position: lastPosition(plan, folderId) };
    if (store.draft([{ kind: "entrance.add", entrance }])) onClose();
  };
  return (
    <Dialog title={`Link ${item.title} again`} onClose={onClose}>
      <SubmitForm onSubmit={link}>
        <Choice label="In" value={folder} onChange={setFolder} options={folderOptions(plan, new Set([item.id]))} />
        {leaks ? (
          <p className={base.wrong}>
            Some come here whom it is not meant for, and could open it: that would be a leak. Is it to be opened to
            them, or only linked?
          </p>
        ) : (
          isShut && (
            <p className={base.soft}>
              Some come here whom it is not meant for. A link alone does not open it to them: what is sealed stays
              sealed.
            </p>
          )
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          {(leaks || isShut) && (
            <Button strong={leaks} onPress={() => setOpening(true)}>
              Open it to them
            </Button>
          )}
          <Button strong={!leaks} type="submit">
            Only link it
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
