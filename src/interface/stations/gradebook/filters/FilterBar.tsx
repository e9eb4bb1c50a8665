import { Pin, PinOff, Trash2 } from "lucide-react";
import { type ReactNode, useEffect, useState } from "react";
import type { Filter, FilterMistake } from "../../../../core/gradebook/filter.ts";
import { groupFilter } from "../../../../core/gradebook/naming-groups.ts";
import { isSameView, type SavedFilter, type SavedView } from "../../../../core/gradebook/view.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import { Button, Toggle } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { WithPeople } from "../../WithPeople.tsx";
import { AsOfChoice } from "./AsOfChoice.tsx";
import { Chips } from "./Chips.tsx";
import { FilterText } from "./FilterText.tsx";
import styles from "./filters.module.css";
import type { Filters } from "./useFilters.ts";

interface FilterBarProps {
  text: string;
  setText(text: string): void;
  /** The last good filter. */
  filter: Filter;
  mistake: FilterMistake | null;
  filters: Filters;
  counts: Map<string, number>;
  view: SavedView;
  /** Whom the filter shows. */
  personIds: readonly string[];
  /** Takes a saved filter over, with its columns and order. */
  take(filter: SavedFilter): void;
  /** How what passes is looked at. */
  children: ReactNode;
}

/** The filter as text and as chips, a group at a press, and the pinned ones on keys 1 to 9. */
export function FilterBar(props: FilterBarProps) {
  const { text, setText, filter, mistake, filters, counts, view, take } = props;
  const { plan } = useWorkbench();
  const [saving, setSaving] = useState(false);
  const pinned = filters.saved.filter((one) => one.pinned);
  const others = filters.saved.filter((one) => !one.pinned);
  const current = filters.saved.find((one) => one.text === text.trim());
  const layers = lookup(plan).layers;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        (event.target as HTMLElement).closest("input, textarea, [contenteditable], [data-cell], [role=dialog]")
      )
        return;
      const chosen = /^[1-9]$/.test(event.key) ? pinned[Number(event.key) - 1] : undefined;
      if (chosen) take(chosen);
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, [pinned, take]);
  const groups = layers.flatMap((layer) =>
    (lookup(plan).groupsOfLayer.get(layer.id) ?? []).map((group) => ({ group, layer })),
  );
  const known = new Set(filters.saved.filter(({ from }) => from === null).map((one) => one.text));
  const ofLayer = (layerId: string) =>
    groups
      .filter(({ layer }) => layer.id === layerId)
      .map(({ group }) => ({ name: group.name, text: groupFilter(group.name) }))
      .filter((one) => !known.has(one.text));
  return (
    <div className={styles.bar}>
      <div className={styles.top}>
        <div className={styles.pinned}>
          <Toggle isSelected={text.trim() === ""} onChange={() => setText("")}>
            All
          </Toggle>
          {pinned.map((one, index) => (
            <Toggle
              key={one.id}
              isSelected={one === current}
              onChange={() => (one === current ? setText("") : take(one))}
            >
              {index < 9 && <span className={base.soft}>{index + 1}</span>} {one.name}{" "}
              <strong>{counts.get(one.id)}</strong>
            </Toggle>
          ))}
          {others.length > 0 && (
            <div className={styles.choice}>
              <Choice
                label="Saved filters"
                hideLabel
                placeholder="Saved"
                value={null}
                onChange={(id) => {
                  const one = filters.saved.find((saved) => saved.id === id);
                  if (one) take(one);
                }}
                options={others.map(({ id, name, from }) => ({
                  value: id,
                  label: from === null ? name : `${name}, from ${from}`,
                  aside: counts.get(id),
                }))}
              />
            </div>
          )}
          {layers.some(({ id }) => ofLayer(id).length > 0) && (
            <div className={styles.choice}>
              <Choice
                label="A filter for each group of a layer"
                hideLabel
                placeholder="Filters for a layer"
                value={null}
                onChange={(layerId) =>
                  void filters.save(
                    ofLayer(layerId).map((one) => ({ ...one, pinned: true, shared: false, view: null })),
                  )
                }
                options={layers
                  .filter(({ id }) => ofLayer(id).length > 0)
                  .map(({ id, name }) => ({ value: id, label: name, aside: plural(ofLayer(id).length, "filter") }))}
              />
            </div>
          )}
        </div>
        {props.children}
      </div>
      <div className={styles.line}>
        <FilterText {...{ text, setText, mistake }} />
        {groups.length > 0 && (
          <div className={styles.choice}>
            <Choice
              label="Filter by group"
              hideLabel
              placeholder="Group"
              value={null}
              onChange={(id) => setText(groupFilter(groups.find(({ group }) => group.id === id)?.group.name ?? ""))}
              options={groups.map(({ group, layer }) => ({
                value: group.id,
                label: group.name,
                picture: <Stripe stripe={group.stripe} isPrivate={layer.private} />,
                aside: layer.name,
              }))}
            />
          </div>
        )}
        {current && current.from === null ? (
          <>
            <Button quiet onPress={() => void filters.save([{ ...current, pinned: !current.pinned }])}>
              {current.pinned ? <PinOff size={15} aria-hidden /> : <Pin size={15} aria-hidden />}
              {current.pinned ? "Unpin" : "Pin"}
            </Button>
            {!isSameView(view, current.view) && (
              <Button quiet onPress={() => void filters.save([{ ...current, view }])}>
                Keep these columns
              </Button>
            )}
            <Button quiet aria-label={`Remove the filter ${current.name}`} onPress={() => filters.remove(current.id)}>
              <Trash2 size={15} aria-hidden />
            </Button>
          </>
        ) : (
          <Button isDisabled={text.trim() === "" || mistake !== null} onPress={() => setSaving(true)}>
            Save filter
          </Button>
        )}
        <WithPeople quiet personIds={props.personIds} />
      </div>
      {filter.kind !== "all" && (
        <div className={styles.below}>
          <Chips filter={filter} setText={setText} />
          <AsOfChoice filter={filter} setText={setText} />
        </div>
      )}
      {saving && <SaveDialog text={text.trim()} view={view} filters={filters} onClose={() => setSaving(false)} />}
    </div>
  );
}

interface SaveProps {
  text: string;
  view: SavedView;
  filters: Filters;
  onClose(): void;
}

function SaveDialog({ text, view, filters, onClose }: SaveProps) {
  const [name, setName] = useState(() => /^group:"?([^"]+)"?$/.exec(text)?.[1] ?? "");
  const [pinned, setPinned] = useState(true);
  const [shared, setShared] = useState(false);
  const save = async () => {
    if (await filters.save([{ name: name.trim(), text, pinned, shared, view }])) onClose();
  };
  return (
    <Dialog title="Save filter" onClose={onClose}>
      <SubmitForm onSubmit={save}>
        <p className={base.soft}>{text}, with the columns and their order as they are.</p>
        <TextField label="Name" value={name} onChange={setName} autoFocus isRequired />
        <Checkbox isSelected={pinned} onChange={setPinned}>
          Pin it: shown above the grid, on a number key
        </Checkbox>
        <Checkbox isSelected={shared} onChange={setShared}>
          Share it with the other staff of this course
        </Checkbox>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={name.trim() === ""}>
            Save
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
