import { useMemo, useState } from "react";
import { lookup } from "../../../core/plan/lookup.ts";
import { type FieldEffect, type OverrideEffect, overrideEffects } from "../../../core/timing/resolving/overrides.ts";
import { memberOf, membershipsAt } from "../../../core/timing/resolving/resolve.ts";
import { Button } from "../../kit/Button.tsx";
import { Checkbox, TextField } from "../../kit/Fields.tsx";
import { RowCheck } from "../../kit/RowCheck.tsx";
import { holdsWords, plural, withTicks } from "../../kit/words.ts";
import { useReach, useWorkbench, Why } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { TargetStripe } from "../Targets.tsx";
import { fieldNames, sayValue } from "./sayValue.ts";
import styles from "./timing.module.css";

/** Every override: of an item, a group or a student as it is typed; what each changes, and those that change nothing. */
export function OverridesView() {
  const { store, plan, t } = useWorkbench();
  const reach = useReach();
  const [text, setText] = useState("");
  const [idleOnly, setIdleOnly] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const all = useMemo(() => overrideEffects(reach), [reach]);
  const shown = useMemo(
    () => all.filter(fitting(text, plan, t)).filter(({ touches }) => !idleOnly || touches === 0),
    [all, text, idleOnly, plan, t],
  );
  // Ticks stay while one searches for more.
  const chosen = all.filter(({ override }) => selected.has(override.id)).map(({ override }) => override.id);
  const idle = all.filter(({ touches }) => touches === 0).length;
  const check = (ids: string[], isSelected: boolean) => setSelected(withTicks(selected, ids, isSelected));
  const remove = () => {
    if (store.draft([{ kind: "overrides.remove", overrideIds: chosen }])) setSelected(new Set());
  };
  if (all.length === 0) return <NoneDiffers />;
  return (
    <>
      <div className={base.bar}>
        <div className={styles.find}>
          <TextField
            label="Item, group, section or student"
            hideLabel
            placeholder="An item, group, section or student"
            value={text}
            onChange={setText}
          />
        </div>
        <Checkbox isSelected={idleOnly} onChange={setIdleOnly} isDisabled={idle === 0 && !idleOnly}>
          {idle === 0 ? "Each changes something" : `Only the ${idle} that ${idle === 1 ? "changes" : "change"} nothing`}
        </Checkbox>
        <span className={base.push} />
        <span aria-live="polite">{plural(shown.length, "override")}</span>
        <Button isDisabled={chosen.length === 0} onPress={remove}>
          Remove {chosen.length > 0 ? plural(chosen.length, "override") : ""}
        </Button>
      </div>
      <section className={base.scroll} aria-label="Overrides">
        <table className={base.table}>
          <Head
            isSelected={shown.length > 0 && shown.every(({ override }) => selected.has(override.id))}
            check={(isSelected) =>
              check(
                shown.map(({ override }) => override.id),
                isSelected,
              )
            }
          />
          <tbody>
            {shown.map((one) => (
              <OverrideRow
                key={one.override.id}
                one={one}
                isSelected={selected.has(one.override.id)}
                check={(is) => check([one.override.id], is)}
              />
            ))}
          </tbody>
        </table>
      </section>
      <Why>{chosen.length > 0 ? <Then overrideIds={chosen} /> : <Rules />}</Why>
    </>
  );
}

const NoneDiffers = () => (
  <div className={base.empty}>
    <h3>No date differs for anybody</h3>
    <p className={base.soft}>
      Give a group its own date under Dates; every such difference then stands here, with what it changes.
    </p>
  </div>
);

const Head = ({ isSelected, check }: { isSelected: boolean; check(isSelected: boolean): void }) => (
  <thead className={styles.stickyHead}>
    <tr>
      <th>
        <RowCheck label="Select all overrides" isSelected={isSelected} onChange={check} />
      </th>
      <th>Item</th>
      <th>For</th>
      <th>Sets</th>
      <th>Changes</th>
    </tr>
  </thead>
);

/** What is typed is looked for in titles and names; a student's name finds every override they are in. */
function fitting(text: string, plan: Parameters<typeof membershipsAt>[0], t: number): (one: OverrideEffect) => boolean {
  const fits = holdsWords(text);
  if (text.trim() === "") return () => true;
  const people = Object.values(plan.people).filter((person) =>
    fits(`${person.givenName} ${person.familyName} ${person.sourcedId}`),
  );
  const [only] = people.length === 1 ? people : [];
  const memberships = only ? membershipsAt(plan, only.id, t) : null;
  return ({ item, name, override }) =>
    fits(`${item.title} ${name}`) || (memberships !== null && memberOf(memberships, override.target));
}

function OverrideRow({
  one,
  isSelected,
  check,
}: {
  one: OverrideEffect;
  isSelected: boolean;
  check(isSelected: boolean): void;
}) {
  const { item, name, override, fields, touches } = one;
  return (
    <tr data-idle={touches === 0 || undefined}>
      <td>
        <RowCheck label={`Select ${item.title} for ${name}`} isSelected={isSelected} onChange={check} />
      </td>
      <td>{item.title}</td>
      <td className={styles.noWrap}>
        <TargetStripe target={override.target} /> {name}
      </td>
      <td>{fields.map(({ field, value }) => `${fieldNames[field].toLowerCase()} ${sayValue(value)}`).join(", ")}</td>
      <td>
        {fields.map((field) => (
          <span key={field.field} className={field.idle ? base.soft : ""}>
            {sayEffect(field)}{" "}
          </span>
        ))}
      </td>
    </tr>
  );
}

/** What somebody really goes from and to: the students with the most alike, and how many others go otherwise. */
const sayEffect = ({ idle, changes, moves }: FieldEffect): string => {
  if (idle) return `nothing: ${idle}`;
  const [first] = moves;
  const others = changes - (first?.students ?? 0);
  const said = `${plural(first?.students ?? 0, "student")} from ${sayValue(first?.from ?? null)} to ${sayValue(first?.to ?? null)}`;
  return others > 0 ? `${said}, ${plural(others, "other")} otherwise` : said;
};

/** What would hold if all that are chosen went at once. */
function Then({ overrideIds }: { overrideIds: string[] }) {
  const reach = useReach();
  // The list is made anew at every rendering; what it names decides.
  const named = overrideIds.join();
  const found = useMemo(() => {
    const gone = new Set(named.split(","));
    return overrideEffects(reach, gone).filter(({ override }) => gone.has(override.id));
  }, [reach, named]);
  return (
    <section>
      <h3 className={base.whyTitle}>Without {plural(overrideIds.length, "override")}</h3>
      {found.map(({ override, item, name, fields }) => (
        <div key={override.id} className={styles.whyField}>
          <h4>
            {item.title}, {name}
          </h4>
          {fields.map(({ field, moves, idle }) =>
            idle ? (
              <p key={field} className={base.soft}>
                {fieldNames[field]} stays as it is: {idle}.
              </p>
            ) : (
              moves.map(({ from, to, students }) => (
                <p key={`${field} ${from} ${to}`}>
                  {fieldNames[field]} <s>{sayValue(to)}</s> becomes <strong>{sayValue(from)}</strong> for{" "}
                  {plural(students, "student")}.
                </p>
              ))
            ),
          )}
        </div>
      ))}
    </section>
  );
}

/** How overrides of several groups come together; the course's to choose. */
function Rules() {
  const { plan } = useWorkbench();
  const { layers } = lookup(plan);
  return (
    <section>
      <h3 className={base.whyTitle}>Which override holds</h3>
      <p>
        A student's own is final. Otherwise{" "}
        {plan.course.datePolicy === "most generous"
          ? "the most generous of their groups and sections holds."
          : `that of the first layer holds, in this order: ${layers.map(({ name }) => name).join(", ")}, sections.`}
      </p>
      <p className={base.soft}>Choose some to see what would hold without them.</p>
    </section>
  );
}
