import { useMemo, useState } from "react";
import { same } from "../../../../core/plan/difference.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { Audience, Item, Layer, Plan } from "../../../../core/plan/types.ts";
import { sayAudience } from "../../../../core/reach/explain.ts";
import { countBits, countShared } from "../../../../core/sets/bits.ts";
import { Button } from "../../../kit/Button.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { Views } from "../../../kit/Views.tsx";
import { plural } from "../../../kit/words.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { Targets } from "../../Targets.tsx";
import styles from "./items.module.css";
import { recentAudiences } from "./recent.ts";

interface ChooserProps {
  audience: Audience;
  onChange(audience: Audience): void;
  /** The folder that it lies in: whoever that is not for is not reached. */
  folderId?: string | null;
  /** Where it can be one for each group of a layer: which layer that is, and another one. */
  each?: { layerId: string | null; choose(layerId: string | null): void };
}

/** Whether nobody was named yet: that is not drafted. */
export const isForNobody = ({ to }: Audience): boolean => to !== "everyone" && to.length === 0;

/** Whom something is for: everyone, or groups, sections and persons, minus any; counted as it is built. */
export function AudienceChooser({ audience, onChange, folderId = null, each }: ChooserProps) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const folder = folderId === null ? undefined : plan.items[folderId];
  const [count, reached] = useMemo(() => {
    const bits = reach.audienceBits(audience);
    return [countBits(bits), folder ? countShared(bits, reach.meant(folder)) : countBits(bits)];
  }, [audience, reach, folder]);
  const recent = recentAudiences(plan).filter((one) => !same(one, audience));
  const everyone = audience.to === "everyone";
  const layers = withGroups(plan);
  return (
    <fieldset className={styles.chooser}>
      <legend>For whom</legend>
      <Views
        label="For whom"
        value={each?.layerId ? "each" : everyone ? "everyone" : "some"}
        onChange={(to) => {
          each?.choose(to === "each" ? (layers[0]?.id ?? null) : null);
          if (to !== "each") onChange({ ...audience, to: to === "everyone" ? "everyone" : [] });
        }}
        options={[
          { value: "everyone", label: "Everyone" },
          { value: "some", label: "Only some" },
          ...(each && layers.length > 0 ? [{ value: "each" as const, label: "One for each group" }] : []),
        ]}
      />
      {each?.layerId && <EachOf layerId={each.layerId} choose={each.choose} />}
      {recent.length > 0 && !each?.layerId && (
        <div className={styles.recent}>
          <span className={base.soft}>Lately:</span>
          {recent.map((one) => (
            <Button key={JSON.stringify(one)} quiet onPress={() => onChange(one)}>
              {sayAudience(plan, one)}
            </Button>
          ))}
        </div>
      )}
      {!each?.layerId && (
        <Targets
          label="Groups, sections and persons"
          targets={audience.to === "everyone" ? [] : audience.to}
          onChange={(to) => onChange({ ...audience, to })}
        />
      )}
      {!each?.layerId && (
        <div className={styles.reaches}>
          <Reaches count={count} reached={reached} folder={folder} />
          <Minus audience={audience} onChange={onChange} />
        </div>
      )}
    </fieldset>
  );
}

/** Whom it is not for though they are named; few items need it, so it is asked for. */
function Minus({ audience, onChange }: Pick<ChooserProps, "audience" | "onChange">) {
  const [isAsked, setAsked] = useState(audience.minus.length > 0);
  if (!isAsked && audience.minus.length === 0)
    return (
      <Button quiet onPress={() => setAsked(true)}>
        Minus some of them
      </Button>
    );
  return <Targets label="Minus" targets={audience.minus} onChange={(minus) => onChange({ ...audience, minus })} />;
}

interface ReachesProps {
  /** How many it names, and how many of them the folder lets in. */
  count: number;
  reached: number;
  folder: Item | undefined;
}

/** How many students it reaches, and what keeps others out. */
function Reaches({ count, reached, folder }: ReachesProps) {
  const reach = useReach();
  const others = reached === 0 ? "for none of them" : `not for the other ${count - reached}`;
  return (
    <p aria-live="polite" className={reached === 0 ? base.wrong : ""}>
      <strong>{plural(reached, "student")}</strong> of {reach.students.length}
      {count === 0 ? ": this is for nobody" : reached < count && `: ${folder?.title} is ${others}`}
    </p>
  );
}

/** Layers that have groups. */
export const withGroups = (plan: Plan): Layer[] =>
  lookup(plan).layers.filter(({ id }) => (lookup(plan).groupsOfLayer.get(id) ?? []).length > 0);

interface EachProps {
  layerId: string;
  choose(layerId: string): void;
}

/** Each group of which layer gets its own, and how titles name them. */
export function EachOf({ layerId, choose }: EachProps) {
  const { plan } = useWorkbench();
  const groups = lookup(plan).groupsOfLayer.get(layerId) ?? [];
  const names = groups.slice(0, 4).map(({ name }) => name);
  return (
    <>
      <Choice
        label="Each group of"
        value={layerId}
        onChange={choose}
        options={withGroups(plan).map(({ id, name }) => ({
          value: id,
          label: name,
          aside: lookup(plan).groupsOfLayer.get(id)?.length ?? 0,
        }))}
      />
      <p className={base.soft}>
        {plural(groups.length, "item")}, each for its own group alone: {names.join(", ")}
        {groups.length > names.length && ` and ${groups.length - names.length} more`}. In a title {"{group}"} is the
        group's name, {"{n}"} its number.
      </p>
    </>
  );
}
