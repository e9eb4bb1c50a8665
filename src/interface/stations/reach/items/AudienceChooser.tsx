import { useMemo } from "react";
import { same } from "../../../../core/plan/difference.ts";
import type { Audience, Target } from "../../../../core/plan/types.ts";
import { sayAudience } from "../../../../core/reach/explain.ts";
import { andNot, countBits, countShared, emptyBits, or } from "../../../../core/sets/bits.ts";
import { Button } from "../../../kit/Button.tsx";
import { Views } from "../../../kit/Views.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { Targets } from "../../Targets.tsx";
import styles from "./items.module.css";
import { recentAudiences } from "./recent.ts";

interface ChooserProps {
  audience: Audience;
  onChange(audience: Audience): void;
  /** The folder that it lies in: whoever that is not for is not reached. */
  folderId?: string | null;
}

/** Whom something is for: everyone, or groups, sections and persons, minus any; counted as it is built. */
export function AudienceChooser({ audience, onChange, folderId = null }: ChooserProps) {
  const { reach, plan } = useWorkbench();
  const folder = folderId === null ? undefined : plan.items[folderId];
  const [count, reached] = useMemo(() => {
    const named = (targets: Target[]) =>
      targets.reduce((bits, target) => or(bits, reach.members(target)), emptyBits(reach.students.length));
    const bits = andNot(audience.to === "everyone" ? reach.everyone : named(audience.to), named(audience.minus));
    return [countBits(bits), folder ? countShared(bits, reach.meant(folder)) : countBits(bits)];
  }, [audience, reach, folder]);
  const recent = recentAudiences(plan).filter((one) => !same(one, audience));
  const everyone = audience.to === "everyone";
  return (
    <fieldset className={styles.chooser}>
      <legend>For whom</legend>
      <Views
        label="For whom"
        value={everyone ? "everyone" : "some"}
        onChange={(to) => onChange({ ...audience, to: to === "everyone" ? "everyone" : [] })}
        options={[
          { value: "everyone", label: "Everyone" },
          { value: "some", label: "Only some" },
        ]}
      />
      {recent.length > 0 && (
        <div className={styles.recent}>
          <span className={base.soft}>Lately:</span>
          {recent.map((one) => (
            <Button key={JSON.stringify(one)} quiet onPress={() => onChange(one)}>
              {sayAudience(plan, one)}
            </Button>
          ))}
        </div>
      )}
      {audience.to !== "everyone" && (
        <Targets
          label="Groups, sections and persons"
          targets={audience.to}
          onChange={(to) => onChange({ ...audience, to })}
        />
      )}
      <Targets label="Minus" targets={audience.minus} onChange={(minus) => onChange({ ...audience, minus })} />
      <p aria-live="polite" className={reached === 0 ? base.wrong : ""}>
        <strong>{plural(reached, "student")}</strong> of {reach.students.length}
        {count === 0
          ? ": this is for nobody"
          : reached < count &&
            `: ${folder?.title} is ${reached === 0 ? "for none of them" : `not for the other ${count - reached}`}`}
      </p>
    </fieldset>
  );
}
