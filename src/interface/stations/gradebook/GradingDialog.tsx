import { X } from "lucide-react";
import { useDeferredValue, useState } from "react";
import { v7 } from "uuid";
import { columnsOf } from "../../../core/gradebook/cells.ts";
import { percentagesOf } from "../../../core/gradebook/percentages.ts";
import type { Sheet } from "../../../core/gradebook/sheet.ts";
import type { Grading } from "../../../core/plan/grading.ts";
import { sayDecimal } from "../../../core/text/locale.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { NumberField } from "../../kit/NumberField.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { useMemoWhen } from "../../kit/when.ts";
import { linesOf, plural } from "../../kit/words.ts";
import { useReach, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./gradebook.module.css";

/** "Merit 60", a line a step. */
function readScale(text: string): Grading["scale"] | { wrong: string } {
  const scale: Grading["scale"] = [];
  for (const line of linesOf(text)) {
    const found = /^(.{1,20}?)\s+(\d{1,3}(?:[.,]\d+)?)\s*%?$/.exec(line);
    if (!found) return { wrong: `"${line}" is not a word and a percentage, such as Merit 60.` };
    scale.push({ word: found[1] as string, from: Number((found[2] as string).replace(",", ".")) });
  }
  return scale.sort((a, b) => b.from - a.from);
}

/** Categories, weights, what missing counts and the scale: tried on the marks as they are before it is drafted. */
export function GradingDialog({ sheet, onClose }: { sheet: Sheet; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const { grading } = plan.course;
  const columns = columnsOf(plan);
  const [categories, setCategories] = useState(grading.categories);
  const [categoryOf, setCategoryOf] = useState<Record<string, string | null>>(
    Object.fromEntries(columns.map(({ id, categoryId }) => [id, categoryId])),
  );
  const [missingIsZero, setMissing] = useState(grading.missingIsZero);
  const [scaleText, setScaleText] = useState(grading.scale.map(({ word, from }) => `${word} ${from}`).join("\n"));
  const scale = readScale(scaleText);
  const wrong = "wrong" in scale ? scale.wrong : null;
  const unnamed = categories.some(({ name }) => name.trim() === "");
  const rules: Grading = { categories, missingIsZero, scale: "wrong" in scale ? grading.scale : scale };
  const change = (id: string, fields: Partial<Grading["categories"][number]>) =>
    setCategories(categories.map((one) => (one.id === id ? { ...one, ...fields } : one)));
  const draft = () => {
    if (wrong || unnamed) return;
    if (store.draft([{ kind: "course.grading", grading: rules, categoryOf }])) onClose();
  };
  return (
    <Dialog title="How totals are made" onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        {categories.length === 0 ? (
          <p className={base.soft}>
            Without categories a total is points earned of points possible, over all columns that count.
          </p>
        ) : (
          <table className={base.table}>
            <thead>
              <tr>
                <th>Category</th>
                <th>Weight</th>
                <th>Lowest dropped</th>
                <th>
                  <span className="visually-hidden">Remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {categories.map(({ id, name, weight, dropLowest }) => (
                <tr key={id}>
                  <td>
                    <TextField
                      label="Name of the category"
                      hideLabel
                      value={name}
                      onChange={(next) => change(id, { name: next })}
                      error={name.trim() === "" && "A category needs a name."}
                    />
                  </td>
                  <td>
                    <NumberField
                      label={`Weight of ${name}`}
                      value={weight}
                      least={0}
                      most={1000}
                      decimal
                      onChange={(next) => change(id, { weight: next })}
                    />
                  </td>
                  <td>
                    <NumberField
                      label={`Lowest dropped of ${name}`}
                      value={dropLowest}
                      least={0}
                      most={100}
                      onChange={(next) => change(id, { dropLowest: next })}
                    />
                  </td>
                  <td>
                    <Button
                      quiet
                      aria-label={`Remove ${name}`}
                      onPress={() => setCategories(categories.filter((one) => one.id !== id))}
                    >
                      <X size={14} aria-hidden />
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <div className={base.bar}>
          <Button
            onPress={() => setCategories([...categories, { id: v7(), name: "", weight: 1, dropLowest: 0 }])}
            isDisabled={categories.length >= 60}
          >
            Add a category
          </Button>
          <Checkbox isSelected={missingIsZero} onChange={setMissing}>
            Missing counts as zero
          </Checkbox>
        </div>
        {categories.length > 0 && (
          <section className={styles.columnList} aria-label="Category of each column">
            {columns.map(({ id, title }) => (
              <div key={id} className={base.line}>
                <span className={base.cut}>{title}</span>
                <span className={base.push} />
                <Choice
                  label={`Category of ${title}`}
                  hideLabel
                  value={categories.some((one) => one.id === categoryOf[id]) ? (categoryOf[id] ?? "none") : "none"}
                  onChange={(next) => setCategoryOf({ ...categoryOf, [id]: next === "none" ? null : next })}
                  options={[
                    { value: "none", label: "none: not counted" },
                    ...categories.map((one) => ({ value: one.id, label: one.name || "without a name" })),
                  ]}
                />
              </div>
            ))}
          </section>
        )}
        <TextField
          label="Scale, a word and from what percentage, a line each"
          hint="Merit 60"
          lines={3}
          value={scaleText}
          onChange={setScaleText}
          error={wrong}
        />
        <Tried rules={rules} categoryOf={categoryOf} sheet={sheet} />
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={wrong !== null || unnamed}>
            Draft it
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

interface TriedProps {
  rules: Grading;
  categoryOf: Record<string, string | null>;
  sheet: Sheet;
}

/** What the settings make of the marks as they are. */
function Tried({ rules, categoryOf, sheet }: TriedProps) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const [later, laterOf] = [useDeferredValue(rules), useDeferredValue(categoryOf)];
  const key = JSON.stringify([later, laterOf]);
  // The values are made anew at every rendering; what they say decides.
  // The key says which.
  const found = useMemoWhen([key, plan, reach, sheet], () => {
    const known = new Set(later.categories.map(({ id }) => id));
    const columns = columnsOf(plan).map((item) => {
      const wanted = laterOf[item.id] ?? null;
      return { item, as: { ...item, categoryId: wanted && known.has(wanted) ? wanted : null } };
    });
    const now = sheet.percentages();
    const then = percentagesOf(
      later,
      columns.map(({ item, as }) => ({ ...sheet.column(item), item: as })),
      reach.students.length,
    );
    let [up, down, none, sum, count] = [0, 0, 0, 0, 0];
    for (let index = 0; index < then.length; index++) {
      const [was, is] = [now[index] as number, then[index] as number];
      if (Number.isNaN(is)) none++;
      else {
        sum += is;
        count++;
      }
      if (is - was > 1e-9) up++;
      if (was - is > 1e-9) down++;
    }
    return { up, down, none, mean: count === 0 ? null : sum / count };
  });
  return (
    <p aria-live="polite" className={base.soft}>
      Tried on the marks as they are: {plural(found.up, "total")} higher, {found.down} lower, {found.none} without a
      total{found.mean !== null && `; mean ${sayDecimal(Math.round(found.mean * 10) / 10, 1)} %`}.
    </p>
  );
}
