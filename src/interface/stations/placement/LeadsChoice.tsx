import { type HowToLead, leadsOfLayer } from "../../../core/placement/groups/leads.ts";
import type { Layer } from "../../../core/plan/types.ts";
import { Choice } from "../../kit/Fields.tsx";
import { useWorkbench } from "../../workbench/context.tsx";

const waysToLead: HowToLead[] = ["first by name", "at random", "nobody"];

interface LeadsProps {
  layer: Layer;
  /** Some of its groups; all, where it is not given. */
  groupIds?: readonly string[];
}

/** One lead for each of a layer's groups, chosen at once. */
export function LeadsChoice({ layer, groupIds }: LeadsProps) {
  const { store, plan, t } = useWorkbench();
  const choose = (how: HowToLead) => {
    const all = leadsOfLayer(plan, layer.id, how, { t, seed: Math.floor(Math.random() * 2 ** 31) });
    const leads = groupIds ? all.filter(({ groupId }) => groupIds.includes(groupId)) : all;
    if (leads.length === 0) store.tell("wrong", "No group here would be led otherwise than it is.");
    else store.draft([{ kind: "groups.leads", leads }]);
  };
  return (
    <Choice
      label={groupIds ? "A lead for each of them" : "A lead for each group"}
      hideLabel={groupIds !== undefined}
      placeholder={groupIds ? "A lead for each" : "Choose for all"}
      value={null}
      onChange={choose}
      options={waysToLead.map((how) => ({ value: how, label: how }))}
    />
  );
}
