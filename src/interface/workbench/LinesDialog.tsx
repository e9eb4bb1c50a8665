import { useState } from "react";
import { forms } from "../../core/line/line.ts";
import { Button } from "../kit/Button.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { linesOf, plural } from "../kit/words.ts";
import styles from "./dialogs.module.css";
import { useLine } from "./useLine.ts";

/** Several lines are several changes: each is looked at before they are drafted together. */
export function LinesDialog({ text: pasted, onClose }: { text: string; onClose(): void }) {
  const [text, setText] = useState(pasted);
  const { readAll, draft } = useLine();
  const typed = linesOf(text);
  const lines = readAll(typed).map((read, at) => ({ line: typed[at] as string, read }));
  const commands = lines.flatMap(({ read: one }) =>
    one.kind === "commands" && one.refused === null ? one.commands : [],
  );
  const wrong = lines.filter(({ read: one }) => one.kind !== "commands" || one.refused !== null);
  const keep = () => {
    if (draft(commands)) onClose();
  };
  return (
    <Dialog title="Changes, a line each" onClose={onClose} wide>
      <SubmitForm onSubmit={keep}>
        <TextField label="Lines" value={text} onChange={setText} lines={Math.min(12, lines.length + 1)} />
        <ul className={styles.lines}>
          {lines.map(({ line, read: one }) => (
            <li key={line} data-kind={one.kind === "commands" && one.refused === null ? "done" : "wrong"}>
              {one.kind === "commands"
                ? (one.refused ?? one.says.join("; "))
                : one.kind === "not understood"
                  ? `"${one.word}" is not understood. ${one.says}`
                  : `"${line}" is no change. Write it as: ${forms[0]?.example}`}
            </li>
          ))}
        </ul>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={commands.length === 0 || wrong.length > 0}>
            Draft {plural(commands.length, "change")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

/** Every form of a line, with what it does. */
export function LineForms() {
  return (
    <dl className={styles.shortcuts}>
      {forms.map(({ example, says }) => (
        <div key={example}>
          <dt>{example}</dt>
          <dd>{says}</dd>
        </div>
      ))}
    </dl>
  );
}
