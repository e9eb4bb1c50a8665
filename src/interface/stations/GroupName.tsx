import type { Group } from "../../core/plan/types.ts";
import { Stripe } from "../kit/Stripe.tsx";
import { useParts, useWorkbench } from "../workbench/context.tsx";
import base from "./station.module.css";

/** A group by its stripe and name, which leads to its page once it is published. `isShort`: the stripe stands for the name. */
export function GroupName({ group, isShort = false }: { group: Group; isShort?: boolean }) {
  const { plan } = useWorkbench();
  const state = useParts("published");
  const stripe = <Stripe stripe={group.stripe} isPrivate={plan.layers[group.layerId]?.private ?? false} />;
  if (!state.published.groups[group.id])
    return (
      <>
        {stripe} {!isShort && group.name}
      </>
    );
  return (
    <a href={`/group/${plan.course.id}/${group.id}`} className={base.groupLink} title={`The page of ${group.name}`}>
      {stripe} <span className={isShort ? "visually-hidden" : ""}>{group.name}</span>
    </a>
  );
}
