import { useState } from "react";
import { fileTrouble, sayBytes, storableEndings } from "../../../../core/formats/stored-files.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { FileButton } from "../../../kit/FileButton.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./items.module.css";
import { sendFile } from "./sendFile.ts";

type Stored = NonNullable<Item["file"]>;

interface FileProps {
  file: Item["file"];
  /** What the button says as long as there is none. */
  says?: string;
  onChange(file: Stored): void;
}

/** A file is stored as soon as it is chosen; only an item that holds it shows it to anybody. */
export function FileField({ file, says = "Choose a file", onChange }: FileProps) {
  const { store } = useWorkbench();
  const [state, setState] = useState<{ sending: string | null; trouble: string | null }>({
    sending: null,
    trouble: null,
  });
  const take = async (chosen: File) => {
    const trouble = fileTrouble(chosen.name, chosen.size);
    if (trouble) return setState({ sending: null, trouble });
    setState({ sending: chosen.name, trouble: null });
    const answer = await sendFile(store.address, chosen.name, chosen);
    if ("trouble" in answer) setState({ sending: null, trouble: answer.trouble });
    else {
      setState({ sending: null, trouble: null });
      onChange(answer);
    }
  };
  return (
    <div className={styles.file}>
      <FileButton
        testId="file"
        accept={storableEndings.map((ending) => `.${ending}`).join(",")}
        isDisabled={state.sending !== null}
        onChoose={(chosen) => void take(chosen)}
      >
        {file ? "Another file" : says}
      </FileButton>
      <span aria-live="polite">
        {state.sending !== null && `Storing ${state.sending}`}
        {state.sending === null && file && (
          <>
            <a href={`${store.address}/files/${file.id}`}>{file.name}</a>{" "}
            <span className={base.soft}>{sayBytes(file.size)}</span>
          </>
        )}
      </span>
      {state.trouble && (
        <p role="alert" className={base.wrong}>
          {state.trouble}
        </p>
      )}
    </div>
  );
}
