import type { LayerCount } from "../../../../core/placement/membership.ts";
import type { Place } from "../../../../core/placement/moving.ts";
import { Button } from "../../../kit/Button.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import { WithPeople } from "../../WithPeople.tsx";
import styles from "./board.module.css";
import type { Moving } from "./useMoving.ts";

interface SelectionProps {
  count: LayerCount;
  moving: Moving;
  onDone(): void;
  onWhy(personId: string): void;
}

/** What can be done with whoever is selected on the board. */
export function BoardSelection({ count, moving, onDone, onWhy }: SelectionProps) {
  const { places, sources, put } = moving;
  if (places.length === 0) {
    return (
      <div className={styles.chosen} data-idle>
        <span>Select by click, Shift or Ctrl and drag; or Space, arrows to a column, and Enter to put down</span>
      </div>
    );
  }
  return (
    <div className={styles.chosen}>
      <span>{places.length} selected</span>
      <Into {...{ count, moving }} />
      <SwapThem {...{ count, places, onDone }} />
      {sources.length > 0 && (
        <Button quiet onPress={() => put(null)}>
          Remove
        </Button>
      )}
      <LeadTheirs places={places} onDone={onDone} />
      <WithPeople quiet personIds={[...new Set(places.map(({ personId }) => personId))]} onDone={onDone} />
      {places.length === 1 && (
        <Button quiet onPress={() => onWhy(places[0]?.personId ?? "")}>
          Why here
        </Button>
      )}
    </div>
  );
}

/** The group that the selection goes to. */
function Into({ count, moving }: { count: LayerCount; moving: Moving }) {
  return (
    <>
      <Choice
        label="Move to"
        hideLabel
        placeholder="Move to group"
        value={null}
        options={count.groups.map(({ group, personIds }) => ({
          value: group.id,
          label: group.name,
          picture: <Stripe stripe={group.stripe} isPrivate={count.layer.private} />,
          aside: personIds.length,
        }))}
        onChange={(groupId) => moving.put(groupId)}
      />
      {moving.copyable && (
        <Choice
          label="Also into"
          hideLabel
          placeholder="Also into group"
          value={null}
          options={count.groups.map(({ group }) => ({ value: group.id, label: group.name }))}
          onChange={(groupId) => moving.put(groupId, true)}
        />
      )}
    </>
  );
}

/** Two people of two groups take each other's place. */
function SwapThem({ count, places, onDone }: { count: LayerCount; places: readonly Place[]; onDone(): void }) {
  const { store } = useWorkbench();
  const [one, other] = places;
  const isPair = places.length === 2 && one?.groupId && other?.groupId && one.groupId !== other.groupId;
  if (!isPair || count.layer.rule === "any number") return null;
  const personIds: [string, string] = [one.personId, other.personId];
  return (
    <Button
      quiet
      onPress={() => store.draft([{ kind: "placement.swap", layerId: count.layer.id, personIds }]) && onDone()}
    >
      Swap them
    </Button>
  );
}

/** Whoever is selected leads the group that they stand in, or, where all of them do already, no longer. */
function LeadTheirs({ places, onDone }: { places: readonly Place[]; onDone(): void }) {
  const { store, plan } = useWorkbench();
  const groupIds = [...new Set(places.flatMap(({ groupId }) => groupId ?? []))];
  const leads = groupIds.map((groupId) => {
    const theirs = places.filter((place) => place.groupId === groupId).map(({ personId }) => personId);
    return { groupId, theirs, now: plan.groups[groupId]?.leads ?? [] };
  });
  if (leads.length === 0) return null;
  const all = leads.every(({ theirs, now }) => theirs.every((id) => now.includes(id)));
  const next = leads.map(({ groupId, theirs, now }) => ({
    groupId,
    personIds: all ? now.filter((id) => !theirs.includes(id)) : [...new Set([...now, ...theirs])],
  }));
  return (
    <Button quiet onPress={() => store.draft([{ kind: "groups.leads", leads: next }]) && onDone()}>
      {all ? "Lead no longer" : leads.length === 1 ? "Lead the group" : "Lead their groups"}
    </Button>
  );
}
