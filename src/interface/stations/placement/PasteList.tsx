import { useMemo, useState } from "react";
import { compareList } from "../../../core/intake/compare.ts";
import type { LayerCount } from "../../../core/placement/membership.ts";
import { isEnrolledAt } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Choice, TextField } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./placement.module.css";

/** A pasted list of ids, e-mails, usernames or names, whose people are placed in a group; each line that fits nobody is told. */
export function PasteList({ count, onClose }: { count: LayerCount; onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const [text, setText] = useState("");
  const [groupId, setGroupId] = useState<string | null>(count.groups[0]?.group.id ?? null);
  const { found, unmatched } = useMemo(() => {
    const lines = text.split(/[\n\t;]/).map((line) => line.trim());
    const rows = lines.map((line) => [line]).filter(([line]) => line !== "");
    const numbers = lines.map((_, at) => at + 1).filter((line) => lines[line - 1] !== "");
    const table = { name: "Pasted", header: ["Person"], rows, lines: numbers };
    const compared = compareList(plan, [{ table, match: ["attribute"] }], { kind: "course" }, t);
    const isHere = (id: string) => isEnrolledAt(plan, id, t);
    // Staff are people of the course too, though the course's students do not hold them.
    const staff = compared.onlyList.flatMap(({ person }) => (person && isHere(person.id) ? [person.id] : []));
    return {
      found: [...compared.both.map(({ person }) => person.id), ...staff],
      unmatched: [
        ...compared.onlyList
          .filter(({ person }) => !person || !isHere(person.id))
          .map(({ person, listed }) => ({ ...listed, why: person ? "not enrolled now" : "nobody of this course" })),
        ...compared.unclear.map(({ listed, why }) => ({ ...listed, why })),
      ].sort((a, b) => a.line - b.line),
    };
  }, [text, plan, t]);
  const draft = () => {
    if (groupId && store.draft([{ kind: "placement.place", groupId, personIds: found }])) onClose();
  };
  return (
    <Dialog title="Paste a list" onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <TextField
          label="Ids, e-mails, usernames or names, a line each"
          lines={7}
          value={text}
          onChange={setText}
          autoFocus
        />
        <Choice
          label="They go into"
          value={groupId}
          onChange={setGroupId}
          options={count.groups.map(({ group, personIds }) => ({
            value: group.id,
            label: group.name,
            aside: personIds.length,
          }))}
        />
        <p aria-live="polite">
          {plural(found.length, "person", "people")} found
          {unmatched.length > 0 && <span className={base.wrong}>, {plural(unmatched.length, "line")} not used</span>}
        </p>
        {unmatched.length > 0 && (
          <ul className={styles.unmatched}>
            {unmatched.slice(0, 100).map(({ line, says, why }) => (
              <li key={line}>
                Line {line}: {says}, {why}
              </li>
            ))}
            {unmatched.length > 100 && <li>and {unmatched.length - 100} more</li>}
          </ul>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={found.length === 0 || groupId === null}>
            Draft {plural(found.length, "placement")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
