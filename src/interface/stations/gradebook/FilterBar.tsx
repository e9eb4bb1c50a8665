import { Pin, PinOff, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import type { FilterMistake } from "../../../core/gradebook/filter.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import { useBench } from "../../bench/context.tsx";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import base from "../station.module.css";
import styles from "./gradebook.module.css";
import type { Filters } from "./useFilters.ts";

interface FilterBarProps {
  text: string;
  setText(text: string): void;
  mistake: FilterMistake | null;
  strangers: string[];
  filters: Filters;
  counts: Map<string, number>;
}

const quoted = (name: string) => (/^[\p{L}\p{N}-]+$/u.test(name) ? name : `"${name.replaceAll('"', '\\"')}"`);

/** The filter as text, a group at a press, and the pinned ones on keys 1 to 9. */
export function FilterBar({ text, setText, mistake, strangers, filters, counts }: FilterBarProps) {
  const { plan } = useBench();
  const [saving, setSaving] = useState(false);
  const pinned = filters.saved.filter(({ pinned: isPinned }) => isPinned);
  const others = filters.saved.filter(({ pinned: isPinned }) => !isPinned);
  const current = filters.saved.find((filter) => filter.text === text.trim());
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        (event.target as HTMLElement).closest("input, textarea, [data-cell]")
      )
        return;
      const chosen = /^[1-9]$/.test(event.key) ? pinned[Number(event.key) - 1] : undefined;
      if (chosen) setText(chosen.text);
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, [pinned, setText]);
  const groups = lookup(plan).layers.flatMap((layer) =>
    (lookup(plan).groupsOfLayer.get(layer.id) ?? []).map((group) => ({ group, layer })),
  );
  return (
    <div className={styles.filterBar}>
      <div className={base.bar}>
        <Toggle isSelected={text.trim() === ""} onChange={() => setText("")}>
          All
        </Toggle>
        {pinned.map((filter, index) => (
          <Toggle
            key={filter.id}
            isSelected={filter === current}
            onChange={() => setText(filter === current ? "" : filter.text)}
          >
            <span className={base.soft}>{index + 1}</span> {filter.name} <strong>{counts.get(filter.id)}</strong>
          </Toggle>
        ))}
        {others.length > 0 && (
          <div className={styles.saved}>
            <Choice
              label="Saved filters"
              hideLabel
              placeholder="Saved"
              value={null}
              onChange={(id) => setText(filters.saved.find((filter) => filter.id === id)?.text ?? "")}
              options={others.map(({ id, name }) => ({
                value: id,
                label: name,
                aside: counts.get(id),
              }))}
            />
          </div>
        )}
      </div>
      <div className={styles.filterLine}>
        <div className={styles.filterText}>
          <TextField
            label="Filter"
            hideLabel
            placeholder='group:Evening status@"Report draft":missing or mark@"Lab 1"<50, or a name'
            value={text}
            onChange={setText}
            error={mistake && `At character ${mistake.position + 1}: ${mistake.says}. The last good filter stays.`}
            hint={strangers.length > 0 ? `Note: ${strangers.join("; ")}.` : undefined}
          />
        </div>
        {groups.length > 0 && (
          <div className={styles.saved}>
            <Choice
              label="Filter by group"
              hideLabel
              placeholder="Group"
              value={null}
              onChange={(id) =>
                setText(`group:${quoted(groups.find(({ group }) => group.id === id)?.group.name ?? "")}`)
              }
              options={groups.map(({ group, layer }) => ({
                value: group.id,
                label: group.name,
                picture: <Stripe stripe={group.stripe} isPrivate={layer.private} />,
                aside: layer.name,
              }))}
            />
          </div>
        )}
        {current ? (
          <>
            <Button quiet onPress={() => filters.save({ ...current, pinned: !current.pinned })}>
              {current.pinned ? <PinOff size={15} aria-hidden /> : <Pin size={15} aria-hidden />}
              {current.pinned ? "Unpin" : "Pin"}
            </Button>
            <Button quiet aria-label={`Remove the filter ${current.name}`} onPress={() => filters.remove(current.id)}>
              <Trash2 size={15} aria-hidden />
            </Button>
          </>
        ) : (
          <Button isDisabled={text.trim() === "" || mistake !== null} onPress={() => setSaving(true)}>
            Save filter
          </Button>
        )}
      </div>
      {saving && <SaveDialog text={text.trim()} filters={filters} onClose={() => setSaving(false)} />}
    </div>
  );
}

function SaveDialog({ text, filters, onClose }: { text: string; filters: Filters; onClose(): void }) {
  const [name, setName] = useState(() => /^group:"?([^"]+)"?$/.exec(text)?.[1] ?? "");
  const [pinned, setPinned] = useState(true);
  const save = async () => {
    await filters.save({ name: name.trim(), text, pinned });
    onClose();
  };
  return (
    <Dialog title="Save filter" onClose={onClose}>
      <SubmitForm onSubmit={save}>
        <p className={base.soft}>{text}</p>
        <TextField label="Name" value={name} onChange={setName} autoFocus isRequired />
        <Checkbox isSelected={pinned} onChange={setPinned}>
          Pin it: shown above the grid, on a number key
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
