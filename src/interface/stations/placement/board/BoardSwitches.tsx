import { lookup } from "../../../../core/plan/lookup.ts";
import type { Layer } from "../../../../core/plan/types.ts";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import styles from "./board.module.css";
import type { Switches } from "./useBoard.ts";

/** Whom the board shows. */
export function BoardSwitches({
  layer,
  ...props
}: {
  layer: Layer;
  switches: Switches;
  set(switches: Switches): void;
}) {
  const { plan } = useWorkbench();
  const { switches } = props;
  const set = (fields: Partial<Switches>) => props.set({ ...switches, ...fields });
  const others = lookup(plan).layers.filter(({ id }) => id !== layer.id);
  return (
    <div className={styles.switches}>
      <TextField
        label="Find people"
        hideLabel
        placeholder="Find by name, id or e-mail"
        value={switches.text}
        onChange={(text) => set({ text })}
      />
      <Checkbox isSelected={switches.onlyUnplaced} onChange={(onlyUnplaced) => set({ onlyUnplaced })}>
        {layer.rule === "exactly one" ? "Only unplaced" : "Only those in no group"}
      </Checkbox>
      {others.length > 0 && (
        <Choice
          label="Not in"
          hideLabel
          value={switches.notIn ?? "-"}
          onChange={(id) => set({ notIn: id === "-" ? null : id })}
          options={[
            { value: "-", label: "In any layer or none" },
            ...others.map(({ id, name }) => ({ value: id, label: `Not in ${name}` })),
          ]}
        />
      )}
      <Checkbox isSelected={switches.staff} onChange={(staff) => set({ staff })}>
        Staff
      </Checkbox>
    </div>
  );
}
