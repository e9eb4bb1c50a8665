import { X } from "lucide-react";
import { useState } from "react";
import { owns } from "../../../core/access/drafting.ts";
import { foldersAbove, fullName, lookup } from "../../../core/plan/lookup.ts";
import { questionsOf } from "../../../core/plan/questions.ts";
import type { Item, Plan } from "../../../core/plan/types.ts";
import { sayPart } from "../../../core/reach/audit/say.ts";
import { sayAudience } from "../../../core/reach/explain.ts";
import { isWork } from "../../../core/reach/reach.ts";
import { countBits } from "../../../core/sets/bits.ts";
import { sayNames } from "../../../core/text/names.ts";
import { Button } from "../../kit/Button.tsx";
import { Few } from "../../kit/Few.tsx";
import { byPlace } from "../../kit/places.ts";
import { plural } from "../../kit/words.ts";
import { useFindings, useParts, useReach, useWorkbench } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { StaffNotes } from "../StaffNotes.tsx";
import base from "../station.module.css";
import { Releases } from "./items/Conditions.tsx";
import { DiffersFor } from "./items/DiffersFor.tsx";
import { EntranceDialog } from "./items/EntranceDialog.tsx";
import { OpenDialog } from "./items/OpenDialog.tsx";
import { WhyFor } from "./items/WhyFor.tsx";
import styles from "./reach.module.css";

interface ItemWhyProps {
  item: Item;
  edit(): void;
  add(): void;
  choose(findingKey: string): void;
}

/** An item as a whole: for whom it is, how many can open it, the ways in, and what is found about it. */
export function ItemWhy({ item, edit, add, choose }: ItemWhyProps) {
  const { store, plan } = useWorkbench();
  const state = useParts("scope");
  const reach = useReach();
  const audit = useFindings();
  const [dialog, setDialog] = useState<"entrance" | "open" | null>(null);
  const meant = countBits(reach.meant(item));
  const sees = countBits(reach.sees(item));
  const found = audit.findings.filter(({ itemId, accepted }) => itemId === item.id && !accepted);
  const isNarrow = [item, ...foldersAbove(plan, item)].some(
    ({ audience }) => audience.to !== "everyone" || audience.minus.length > 0,
  );
  const { split } = item;
  const mayEdit = state.scope === null || owns(item, state.scope.personId);
  return (
    <section>
      <h3 className={base.whyTitle}>{item.title}</h3>
      <p>
        For {sayFew(plan, item.audience)}. Meant for {plural(meant, "student")}; {sees} can open it at this moment.
      </p>
      {found.map((one) => (
        <p key={one.key} className={styles.foundHere}>
          <button
            type="button"
            className={`${base.plainButton} ${one.asks ? "" : base.wrong}`}
            onClick={() => choose(one.key)}
          >
            {one.says}
          </button>
        </p>
      ))}
      {item.kind === "folder" && (
        <p className={base.soft}>
          {item.pageOf && `The page of ${plan.groups[item.pageOf]?.name ?? "a removed group"}. `}
          {item.seals
            ? "It seals its contents: nobody reaches them who may not open it."
            : "It does not seal its contents: they can be reached by other entrances."}
        </p>
      )}
      {split && (
        <p>
          Split along {plan.layers[split.layerId]?.name ?? "a removed layer"}, {split.between}.
          {item.combines.length > 0 && ` Made of ${item.combines.length} copies.`}
        </p>
      )}
      {item.condition && <p>Opens to those who fulfil: {sayPart(plan, item.condition)}.</p>}
      {byPlace(item.variants).map(({ key, one: variant }) => (
        <p key={key}>
          For {sayAudience(plan, { to: variant.targets, minus: [] })}:{" "}
          {variant.condition ? sayPart(plan, variant.condition) : "no condition"}.
        </p>
      ))}
      {(item.condition || item.variants.length > 0 || item.dates.opens) && <Releases item={item} />}
      <div className={styles.itemActions}>
        {mayEdit && (
          <>
            {" "}
            <Button strong onPress={edit}>
              Change
            </Button>
            <Button
              onPress={() =>
                store.draft([{ kind: "item.change", itemId: item.id, fields: { published: !item.published } }])
              }
            >
              {item.published ? "Unpublish" : "Make it published"}
            </Button>
            {item.kind === "folder" && (
              <Button
                onPress={() => store.draft([{ kind: "item.change", itemId: item.id, fields: { seals: !item.seals } }])}
              >
                {item.seals ? "Unseal it" : "Seal it"}
              </Button>
            )}
          </>
        )}{" "}
        {item.kind === "folder" && <Button onPress={add}>New item in it</Button>}
        {item.kind !== "folder" && (
          <Button onPress={() => store.go("timing", { kind: "item", id: item.id })}>Dates</Button>
        )}
        {item.points !== null && (
          <Button onPress={() => store.go("gradebook", { kind: "item", id: item.id })}>Results</Button>
        )}
        {item.kind === "quiz" && item.quiz && questionsOf(item.quiz).length > 0 && (
          <a href={`/try/${store.courseId}/${item.id}?draft=1`} target="_blank" rel="noreferrer">
            Try it out
          </a>
        )}
        {item.kind === "discussion" && <a href={`/threads/${store.courseId}/${item.id}`}>Threads side by side</a>}
        <CoordinatorOnly>
          {isNarrow && item.kind !== "folder" && <Button onPress={() => setDialog("open")}>Open to others</Button>}
          <Button onPress={() => setDialog("entrance")}>Show in another folder too</Button>
        </CoordinatorOnly>
        {mayEdit && <Button onPress={() => store.draft([{ kind: "item.remove", itemId: item.id }])}>Remove</Button>}
      </div>
      {item.kind !== "folder" && <DiffersFor item={item} />}
      {item.kind !== "folder" && <WhyFor key={item.id} item={item} />}
      <Ways item={item} />
      <Owners item={item} />
      <StaffNotes kind="item" id={item.id} />
      {dialog === "entrance" && <EntranceDialog item={item} onClose={() => setDialog(null)} />}
      {dialog === "open" && <OpenDialog item={item} parentId={null} onClose={() => setDialog(null)} />}
    </section>
  );
}

/** For whom, in words; of more than a few names the first alone. */
function sayFew(plan: Plan, { to, minus }: Item["audience"]): string {
  const few = 4;
  if (to === "everyone" || to.length <= few) return sayAudience(plan, { to, minus: minus.slice(0, few) });
  return `${sayAudience(plan, { to: to.slice(0, few - 1), minus: [] })} and ${to.length - few + 1} more`;
}

/** Whose the item is, and who may change it. */
function Owners({ item }: { item: Item }) {
  const { plan } = useWorkbench();
  const names = item.owners.flatMap((id) => plan.people[id] ?? []).map((one) => fullName(one));
  return (
    <p className={base.soft} style={{ marginTop: 10 }}>
      {names.length === 0
        ? "It is the coordinator's, who alone may change it."
        : `Owned by ${sayNames(names)}, who may change it, as the coordinator may.`}
    </p>
  );
}

/** Every entrance of an item; those that were added can be taken away again. */
function Ways({ item }: { item: Item }) {
  const { store, plan } = useWorkbench();
  const name = (folderId: string | null) =>
    folderId === null ? "the top of the outline" : (plan.items[folderId]?.title ?? "a removed folder");
  const { indexes } = plan.course;
  const listed = [
    indexes.discussions && item.kind === "discussion" && "all discussions",
    indexes.files && item.kind === "file" && "all files",
    indexes.work && isWork(item) && "the list of work",
    indexes.calendar && (item.kind === "event" || item.dates.due) && "the calendar",
  ].filter((one) => typeof one === "string");
  return (
    <>
      <h4 className={styles.waysTitle}>Ways in</h4>
      <ul className={styles.ways}>
        <li>{name(item.parentId)}, its home</li>
        <Few of={lookup(plan).entrancesOfItem.get(item.id) ?? []}>
          {(entrance) => (
            <li key={entrance.id}>
              {name(entrance.folderId)}
              <CoordinatorOnly>
                {" "}
                <Button
                  quiet
                  aria-label={`Remove the entrance in ${name(entrance.folderId)}`}
                  onPress={() => store.draft([{ kind: "entrance.remove", entranceId: entrance.id }])}
                >
                  <X size={13} aria-hidden />
                </Button>
              </CoordinatorOnly>{" "}
            </li>
          )}
        </Few>
        {listed.map((one) => (
          <li key={one}>the index of {one}</li>
        ))}
      </ul>
    </>
  );
}
