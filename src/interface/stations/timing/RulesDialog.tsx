import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import { lookup } from "../../../core/plan/lookup.ts";
import type { Course } from "../../../core/plan/types.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { NumberField } from "../../kit/NumberField.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./timing.module.css";

/** Which of two overrides holds, whose meetings a student goes by, and from what difference the audit asks. */
export function RulesDialog({ onClose }: { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const { course } = plan;
  const { layers, groupsOfLayer } = lookup(plan);
  const [policy, setPolicy] = useState(course.datePolicy);
  const usual = [...course.layerOrder, ...layers.map(({ id }) => id).filter((id) => !course.layerOrder.includes(id))];
  const [order, setOrder] = useState(usual.includes("sections") ? usual : [...usual, "sections"]);
  const [meets, setMeets] = useState(course.meetingLayerId ?? "sections");
  const [share, setShare] = useState(course.unequalShare);
  const name = (id: string) =>
    id === "sections" ? "The registrar's sections" : (plan.layers[id]?.name ?? "A layer that was put away");
  const move = (at: number, by: 1 | -1) => {
    const next = [...order];
    const [moved] = next.splice(at, 1);
    next.splice(at + by, 0, moved as string);
    setOrder(next);
  };
  const withMeetings = layers.filter(({ id }) =>
    (groupsOfLayer.get(id) ?? []).some(({ pattern }) => pattern.length > 0),
  );
  const draft = () => {
    const rules: Partial<Course> = {
      datePolicy: policy,
      layerOrder: order,
      meetingLayerId: meets === "sections" ? null : meets,
      unequalShare: share,
    };
    if (store.draft([{ kind: "course.dateRules", rules }])) onClose();
  };
  return (
    <Dialog title="How dates are decided" onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <Choice
          label="Where overrides of several groups and sections reach one student"
          value={policy}
          onChange={setPolicy}
          options={[
            { value: "most generous", label: "the most generous holds" },
            { value: "layer order", label: "the first layer in the order holds" },
          ]}
        />
        <div>
          <p className={base.soft}>
            The order of layers{policy === "most generous" ? ", which decides between two passwords" : ""}
          </p>
          <ol className={styles.order}>
            {order.map((id, at) => (
              <li key={id}>
                <span>{name(id)}</span>
                <Button quiet aria-label={`${name(id)} earlier`} isDisabled={at === 0} onPress={() => move(at, -1)}>
                  <ArrowUp size={14} aria-hidden />
                </Button>
                <Button
                  quiet
                  aria-label={`${name(id)} later`}
                  isDisabled={at === order.length - 1}
                  onPress={() => move(at, 1)}
                >
                  <ArrowDown size={14} aria-hidden />
                </Button>
              </li>
            ))}
          </ol>
        </div>
        <Choice
          label="Class meetings that a student's dates go by"
          value={meets}
          onChange={setMeets}
          options={[
            { value: "sections", label: "those of the home section" },
            ...withMeetings.map((layer) => ({
              value: layer.id,
              label: `those of their group of ${layer.name}, if it has any`,
            })),
          ]}
        />
        <div className={base.anchor}>
          <span>Ask where working time of groups differs by more than</span>
          <NumberField label="Percent of difference" value={share} least={0} most={100} onChange={setShare} />
          <span>%</span>
        </div>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit">
            Draft the rules
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
