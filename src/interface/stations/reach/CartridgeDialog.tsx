import { useMemo, useState } from "react";
import { v7 } from "uuid";
import { fileTrouble } from "../../../core/formats/stored-files.ts";
import { lastPosition, outlineOrder } from "../../../core/plan/lookup.ts";
import type { Item } from "../../../core/plan/types.ts";
import type { Cartridge } from "../../../core/reach/outline/cartridge/read.ts";
import type { CartridgeItem } from "../../../core/reach/outline/cartridge/resource.ts";
import { allOf, cartridgeCommands } from "../../../core/reach/outline/cartridge/taking.ts";
import { leftUnsaid } from "../../../core/reach/outline/cartridge/unsaid.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { FileButton } from "../../kit/FileButton.tsx";
import { notFetched, orNull } from "../../kit/fetched.tsx";
import { byPlace } from "../../kit/places.ts";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { saveFile } from "../../kit/save.ts";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { folderOf, folderOptions, top } from "./items/folders.ts";
import { sendFile } from "./items/sendFile.ts";
import styles from "./reach.module.css";

/** An outline from a Common Cartridge archive, looked at before it is drafted; and the course's own as one. */
export function CartridgeDialog({ onClose }: { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const [read, setRead] = useState<Cartridge | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [under, setUnder] = useState<string | null>(null);
  const [folder, setFolder] = useState(top);

  const take = async (file: File) => {
    setRead(null);
    setTrouble(null);
    setUnder(`Reading ${file.name}`);
    const reader = await orNull(import("../../../core/reach/outline/cartridge/read.ts"));
    const bytes = await file.arrayBuffer().catch(() => null);
    const found = !reader
      ? { trouble: notFetched }
      : bytes
        ? reader.readCartridge(new Uint8Array(bytes), file.name)
        : { trouble: `${file.name} could not be read from the disk. Choose it again.` };
    setUnder(null);
    if ("trouble" in found) setTrouble(found.trouble);
    else setRead(found);
  };
  const draft = async () => {
    if (!read) return;
    const stored = new Map<CartridgeItem, Item["file"]>();
    const files = allOf(read.items).filter(({ file }) => file !== null);
    for (const [at, item] of files.entries()) {
      const file = item.file as NonNullable<CartridgeItem["file"]>;
      setUnder(`Storing ${file.name}, ${at + 1} of ${files.length}`);
      const wrong = fileTrouble(file.name, file.bytes.length);
      const answer = wrong
        ? { trouble: wrong }
        : await sendFile(store.address, file.name, new Blob([file.bytes as BlobPart]));
      if ("trouble" in answer) {
        setUnder(null);
        return setTrouble(`${answer.trouble} Nothing of the outline was drafted.`);
      }
      stored.set(item, answer);
    }
    setUnder(null);
    const parentId = folderOf(folder);
    const into = { courseId: plan.course.id, parentId, first: lastPosition(plan, parentId), stored, makeId: v7 };
    const commands = cartridgeCommands(read.items, into);
    if (store.draft(commands)) onClose();
  };
  const write = async () => {
    const files = outlineOrder(plan).flatMap(({ item }) => (item.file ? [item.file] : []));
    const bytes = new Map<string, Uint8Array>();
    for (const [at, file] of files.entries()) {
      setUnder(`Fetching ${file.name}, ${at + 1} of ${files.length}`);
      const answer = await fetch(`${store.address}/files/${file.id}`).catch(() => null);
      if (!answer?.ok) {
        setUnder(null);
        return setTrouble(`${file.name} could not be fetched, so no archive was made. Try again.`);
      }
      bytes.set(file.id, new Uint8Array(await answer.arrayBuffer()));
    }
    setUnder(null);
    const writer = await orNull(import("../../../core/reach/outline/cartridge/write.ts"));
    if (!writer) return setTrouble(notFetched);
    saveFile(`${plan.course.code} outline.imscc`, "application/zip", writer.writeCartridge(plan, bytes) as BlobPart);
  };
  const unsaid = useMemo(() => leftUnsaid(plan), [plan]);
  const count = read ? allOf(read.items).length : 0;
  return (
    <Dialog title="Outline in and out" onClose={onClose}>
      <SubmitForm onSubmit={() => void draft()}>
        <p className={base.soft}>
          Archives in the open format Common Cartridge 1.3: folders, pages, files, links, discussions, assignments, and
          quizzes in QTI 2.1. Nothing is drafted before you have looked at it.
        </p>
        <div className={base.bar}>
          <FileButton
            accept=".imscc,.zip"
            testId="cartridge"
            isDisabled={under !== null}
            onChoose={(file) => void take(file)}
          >
            Choose an archive
          </FileButton>
          <Button onPress={() => void write()} isDisabled={under !== null || Object.keys(plan.items).length === 0}>
            Save this outline as an archive
          </Button>
        </div>
        {unsaid.length > 0 && (
          <details>
            <summary>What an archive does not say of this outline</summary>
            <ul>
              {unsaid.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </ul>
          </details>
        )}
        {under && <p role="status">{under}</p>}
        {trouble && (
          <p role="alert" className={base.wrong}>
            {trouble}
          </p>
        )}
        {read && (
          <>
            <p>
              <strong>{read.title}</strong>: {plural(count, "item")}.
            </p>
            <Tree items={read.items} />
            {read.left.length > 0 && (
              <>
                <p className={base.wrong}>{plural(read.left.length, "thing")} in it cannot be taken as they are:</p>
                <ul>
                  {read.left.map((one) => (
                    <li key={one}>{one}</li>
                  ))}
                </ul>
              </>
            )}
            <Choice label="Take it into" value={folder} onChange={setFolder} options={folderOptions(plan)} />
          </>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={count === 0 || under !== null}>
            Draft {plural(count, "item")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

function Tree({ items }: { items: CartridgeItem[] }) {
  return (
    <ul className={styles.tree}>
      {byPlace(items.slice(0, 200)).map(({ key, one: item }) => (
        <li key={key}>
          {item.title} <span className={base.soft}>{item.kind}</span>
          {item.children.length > 0 && <Tree items={item.children} />}
        </li>
      ))}
    </ul>
  );
}
