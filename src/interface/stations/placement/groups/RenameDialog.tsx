import { useState } from "react";
import { namesFor } from "../../../../core/placement/groups/parts.ts";
import type { Layer } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice, TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { linesOf } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import styles from "./groups.module.css";

/** New names for several groups, by a pattern or from a list, each shown beside the old one. */
export function RenameDialog({ layer, groupIds, onClose }: { layer: Layer; groupIds: string[]; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const [kind, setKind] = useState<"pattern" | "topics">("pattern");
  const [pattern, setPattern] = useState(
    groupIds.length === 1 ? (plan.groups[groupIds[0] ?? ""]?.name ?? "") : "{scope} team {n}",
  );
  const [topics, setTopics] = useState("");
  const isReady = kind === "pattern" ? pattern.trim() !== "" : linesOf(topics).length > 0;
  const named = isReady
    ? namesFor(plan, groupIds, kind === "pattern" ? { kind, pattern } : { kind, topics: linesOf(topics) })
    : [];
  return (
    <Dialog title={groupIds.length === 1 ? "Rename the group" : `Rename ${groupIds.length} groups`} onClose={onClose}>
      <SubmitForm
        onSubmit={() => store.draft([{ kind: "group.renameMany", layerId: layer.id, names: named }]) && onClose()}
      >
        {groupIds.length > 1 && (
          <Choice<"pattern" | "topics">
            label="Names come from"
            value={kind}
            onChange={setKind}
            options={[
              { value: "pattern", label: "a pattern" },
              { value: "topics", label: "a list of topics" },
            ]}
          />
        )}
        {kind === "pattern" ? (
          <TextField
            label={groupIds.length > 1 ? "Pattern" : "Name"}
            hint={groupIds.length > 1 && "{n} is a number that begins at 1 in each scope, {scope} the scope's own name"}
            value={pattern}
            onChange={setPattern}
            autoFocus
          />
        ) : (
          <TextField label="Topics, a line each" lines={5} value={topics} onChange={setTopics} autoFocus />
        )}
        {groupIds.length > 1 && (
          <ul className={styles.preview} aria-label="New names">
            {named.slice(0, 200).map(({ groupId, name }) => (
              <li key={groupId}>
                <span>{plan.groups[groupId]?.name}</span>
                <strong>{name}</strong>
              </li>
            ))}
            {named.length > 200 && <li>and {named.length - 200} more</li>}
          </ul>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={!isReady}>
            Draft the {groupIds.length === 1 ? "name" : `${groupIds.length} names`}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
