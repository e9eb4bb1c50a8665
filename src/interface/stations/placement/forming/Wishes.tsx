import { X } from "lucide-react";
import { useMemo } from "react";
import { Button as AriaButton } from "react-aria-components";
import { formingColumns } from "../../../../core/placement/forming/input.ts";
import { saySoft } from "../../../../core/placement/forming/say.ts";
import type { Forming, SoftWish } from "../../../../core/plan/forming.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import kit from "../../../kit/controls.module.css";
import { Choice, type Option, TextField } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { useStudents, useWorkbench } from "../../../workbench/context.tsx";
import styles from "./forming.module.css";
import { PeopleSets } from "./PeopleSets.tsx";

/** What is wished, as sentences that are filled in. */
export function Wishes({
  forming,
  onChange,
  layerId,
}: {
  forming: Forming;
  onChange(forming: Forming): void;
  layerId: string | null;
}) {
  const { plan } = useWorkbench();
  const students = useStudents();
  const { layers } = lookup(plan);
  const others = layers.filter(({ id }) => id !== layerId);
  const columns = useMemo(() => formingColumns(plan, students), [plan, students]);
  const set = (fields: Partial<Forming>) => onChange({ ...forming, ...fields });
  const layerName = (id: string) => plan.layers[id]?.name ?? "a removed layer";

  const offers: { option: Option<string>; wish: SoftWish }[] = [
    ...columns.flatMap(({ column, number, values }) => {
      const spread: SoftWish = { kind: number ? "spread number" : "spread category", column, weight: 1 };
      // Few values of a number, such as years, are counted too.
      const counted: SoftWish[] = number && values <= 12 ? [{ kind: "spread category", column, weight: 1 }] : [];
      return [spread, ...counted, { kind: "gather", column, weight: 1 } as const];
    }),
    ...others.map(({ id }): SoftWish => ({ kind: "new partners", layerIds: [id], weight: 1 })),
  ]
    .map((wish) => ({ wish, label: saySoft(wish, layerName) }))
    .filter(({ label }) => !forming.soft.some((wish) => saySoft(wish, layerName) === label))
    .map(({ wish, label }) => ({ wish, option: { value: label, label } }));

  return (
    <div className={styles.wishes}>
      <div className={styles.sentence}>
        <span>Groups of</span>
        <NumberField
          label="How many"
          value={forming.into.number}
          least={1}
          most={5000}
          onChange={(number) => set({ into: { ...forming.into, number } })}
        />
        <Choice
          label="What is counted"
          hideLabel
          value={forming.into.by}
          options={[
            { value: "size" as const, label: "people each" },
            { value: "groups" as const, label: "in number" },
          ]}
          onChange={(by) => set({ into: { ...forming.into, by } })}
        />
      </div>
      <Choice
        label="From"
        value={forming.scopeLayerId ?? "everyone"}
        options={[
          { value: "everyone", label: "everyone together" },
          ...others.map(({ id, name }) => ({ value: id, label: `each group of ${name} apart` })),
        ]}
        onChange={(id) => set({ scopeLayerId: id === "everyone" ? null : id })}
      />
      <Choice
        label="Sizes"
        value={forming.limits ? "limits" : "even"}
        options={[
          { value: "even" as const, label: "differ by at most one" },
          { value: "limits" as const, label: "stay between two limits" },
        ]}
        onChange={(kind) =>
          set({
            limits:
              kind === "even" ? null : { min: Math.max(1, forming.into.number - 1), max: forming.into.number + 1 },
          })
        }
      />
      {forming.limits && (
        <div className={styles.sentence}>
          <span>at least</span>
          <NumberField
            label="Smallest size"
            value={forming.limits.min}
            least={0}
            most={5000}
            onChange={(min) => forming.limits && set({ limits: { ...forming.limits, min } })}
          />
          <span>at most</span>
          <NumberField
            label="Largest size"
            value={forming.limits.max}
            least={1}
            most={5000}
            onChange={(max) => forming.limits && set({ limits: { ...forming.limits, max } })}
          />
        </div>
      )}
      <Choice
        label="Wishes, weighed against each other"
        value={null}
        placeholder="Add a wish"
        options={offers.map(({ option }) => option)}
        onChange={(label) => {
          const found = offers.find(({ option }) => option.value === label);
          if (found) set({ soft: [...forming.soft, found.wish] });
        }}
      />
      {forming.soft.length > 0 && (
        <ul className={styles.soft}>
          {forming.soft.map((wish, at) => (
            <li key={saySoft(wish, layerName)}>
              <span>{saySoft(wish, layerName)}</span>
              <NumberField
                label={`Weight of ${saySoft(wish, layerName)}`}
                value={wish.weight}
                least={0.1}
                most={100}
                decimal
                onChange={(weight) =>
                  set({ soft: forming.soft.map((other, place) => (place === at ? { ...wish, weight } : other)) })
                }
              />
              <AriaButton
                className={kit.remove as string}
                aria-label={`Drop: ${saySoft(wish, layerName)}`}
                onPress={() => set({ soft: forming.soft.filter((other) => other !== wish) })}
              >
                <X size={14} aria-hidden />
              </AriaButton>
            </li>
          ))}
        </ul>
      )}
      <PeopleSets
        label="Keep apart, always"
        verb="Keep apart"
        sets={forming.apart}
        onChange={(apart) => set({ apart })}
      />
      <PeopleSets
        label="Keep together, always"
        verb="Keep together"
        sets={forming.together}
        onChange={(together) => set({ together })}
      />
      <Choice
        label="Names"
        value={forming.names.kind}
        options={[
          { value: "pattern" as const, label: "by a pattern" },
          { value: "topics" as const, label: "from a list of topics" },
        ]}
        onChange={(kind) =>
          set({
            names:
              kind === "pattern"
                ? { kind, pattern: "{scope} team {n}" }
                : { kind, topics: ["Topic 1", "Topic 2", "Topic 3"] },
          })
        }
      />
      {forming.names.kind === "pattern" ? (
        <TextField
          label="Pattern"
          value={forming.names.pattern}
          hint="{scope} is the group they come from; {n} begins at 1 in each."
          onChange={(pattern) => set({ names: { kind: "pattern", pattern: pattern || "{n}" } })}
        />
      ) : (
        <TextField
          label="Topics, a line each"
          lines={4}
          value={forming.names.topics.join("\n")}
          hint="Used again in each scope, with its name."
          onChange={(text) => set({ names: { kind: "topics", topics: text.split("\n") } })}
        />
      )}
      <Choice
        label="Leads"
        value={forming.leads}
        options={[
          { value: "none" as const, label: "none" },
          { value: "random" as const, label: "one a group, at random" },
          { value: "new" as const, label: "one a group who has not led before" },
        ]}
        onChange={(leads) => set({ leads })}
      />
    </div>
  );
}
