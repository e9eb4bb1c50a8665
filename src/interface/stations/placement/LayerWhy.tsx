import { useState } from "react";
import { v7 } from "uuid";
import { sayWall } from "../../../core/clock/local-time.ts";
import { saySoft } from "../../../core/placement/forming/say.ts";
import { freeName } from "../../../core/placement/groups/parts.ts";
import { windowAt } from "../../../core/placement/self-placement.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import type { Layer } from "../../../core/plan/types.ts";
import { Button } from "../../kit/Button.tsx";
import { Few } from "../../kit/Few.tsx";
import { Fetched, partOf } from "../../kit/fetched.tsx";
import { plural } from "../../kit/words.ts";
import { useParts, useWorkbench } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { LayerSplitting } from "../Splitting.tsx";
import base from "../station.module.css";
import { LayerEdit } from "./dialogs.tsx";
import { LeadsChoice } from "./LeadsChoice.tsx";
import styles from "./placement.module.css";
import { RulesDialog } from "./RulesDialog.tsx";

/** What a layer is, and by what its groups are filled. */
interface WhyProps {
  layer: Layer;
  onLayer(layerId: string): void;
  files(): void;
}
/** It comes with the editor of texts, which weighs more than the station. */
const selfPlacementDialog = partOf(async () => (await import("./self/SelfPlacementDialog.tsx")).SelfPlacementDialog);

export function LayerWhy({ layer, onLayer, files }: WhyProps) {
  const { store, plan } = useWorkbench();
  const [editing, setEditing] = useState(false);
  const [placing, setPlacing] = useState(false);
  const rules = layer.following ?? [];
  const groups = lookup(plan).groupsOfLayer.get(layer.id) ?? [];
  return (
    <section>
      <h3 className={base.whyTitle}>{layer.name}</h3>
      <p>
        Everyone is in{" "}
        {layer.rule === "any number"
          ? "any number of groups"
          : layer.rule === "exactly one"
            ? "exactly one group"
            : "at most one group"}
        . {layer.private ? "Private: no student ever sees it, or that it exists." : "Students see their group's label."}
      </p>
      {layer.following ? (
        <>
          <p style={{ marginTop: 8 }}>It follows the sections. The first rule that fits decides:</p>
          <ol className={styles.rules}>
            <Few of={rules}>
              {(rule) => (
                <li key={JSON.stringify(rule)}>
                  {rule.sectionIds.map((id) => plan.sections[id]?.code).join(" or ") || "any section"}
                  {rule.attribute &&
                    `, ${rule.attribute.column} ${rule.attribute.test} ${rule.attribute.values.join(" and ")}`}{" "}
                  into {plan.groups[rule.groupId]?.name}
                </li>
              )}
            </Few>
          </ol>
          <p className={base.soft}>Whoever you move by hand is held, and stays when sections change.</p>
        </>
      ) : layer.forming ? (
        <>
          <p style={{ marginTop: 8 }}>Its groups were formed by these wishes:</p>
          <ul className={styles.rules}>
            {layer.forming.scopeLayerId && (
              <li>Each group of {plan.layers[layer.forming.scopeLayerId]?.name ?? "a removed layer"} apart</li>
            )}
            {layer.forming.soft.map((wish) => {
              const said = saySoft(wish, (id) => plan.layers[id]?.name ?? "a removed layer");
              return <li key={said}>{said}</li>;
            })}
            {layer.forming.apart.length > 0 && <li>{plural(layer.forming.apart.length, "set")} kept apart</li>}
            {layer.forming.together.length > 0 && <li>{plural(layer.forming.together.length, "set")} kept together</li>}
          </ul>
          <p className={base.soft}>Late arrivals go into the smallest group that fits; nobody is moved.</p>
        </>
      ) : (
        <p className={base.soft}>It is placed by hand. Select people in the list and move them.</p>
      )}
      <CoordinatorOnly>
        <p style={{ marginTop: 10 }}>
          <Button isDisabled={groups.length === 0} onPress={() => setEditing(true)}>
            {layer.following ? "Change the rules" : "Let it follow the sections"}
          </Button>
        </p>
        {layer.following && (
          <p>
            <Button
              quiet
              onPress={() => store.draft([{ kind: "layer.change", layerId: layer.id, fields: { following: null } }])}
            >
              Stop following, and stay as it is
            </Button>
          </p>
        )}
      </CoordinatorOnly>
      {layer.selfPlacement && <SelfSaid layer={layer} />}
      <CoordinatorOnly>
        {!layer.private && (
          <p style={{ marginTop: 6 }}>
            <Button isDisabled={groups.length === 0} onPress={() => setPlacing(true)}>
              {layer.selfPlacement ? "Change self-placement" : "Let students place themselves"}
            </Button>
          </p>
        )}
        {!layer.private && groups.length > 0 && <LayerSplitting layer={layer} />}
        {groups.length > 0 && (
          <div style={{ marginTop: 8 }}>
            <LeadsChoice layer={layer} />
          </div>
        )}
        <LayerTools layer={layer} onLayer={onLayer} files={files} />
      </CoordinatorOnly>
      {placing && <Fetched part={selfPlacementDialog} props={{ layer, onClose: () => setPlacing(false) }} />}
      {editing && <RulesDialog layer={layer} onClose={() => setEditing(false)} />}
    </section>
  );
}

function SelfSaid({ layer }: { layer: Layer }) {
  const { plan, t } = useWorkbench();
  const self = layer.selfPlacement;
  if (!self) return null;
  const now = { before: "not open yet", open: "open", after: "closed", none: "closed" }[windowAt(plan, layer, t)];
  return (
    <p style={{ marginTop: 8 }}>
      Students place themselves by {self.by === "code" ? "typing a code" : "choosing a group"}
      {self.opens && `, from ${sayWall(self.opens)}`}
      {self.closes && `, until ${sayWall(self.closes)}`}: {now}.
    </p>
  );
}

/** What can be done with a layer as a whole. */
function LayerTools({ layer, onLayer, files }: WhyProps) {
  const { store, plan } = useWorkbench();
  const state = useParts("published", "draft");
  const { layers, allLayers } = lookup(plan);
  const wall = `/wall/${store.courseId}/${layer.id}`;
  const [editing, setEditing] = useState(false);
  const away = allLayers.filter(({ archivedAt }) => archivedAt !== null);
  const duplicate = (withPeople: boolean) => {
    const newLayerId = v7();
    const name = freeName(
      layer.name,
      layers.map((other) => other.name),
    );
    if (store.draft([{ kind: "layer.duplicate", layerId: layer.id, newLayerId, name, withPeople }]))
      onLayer(newLayerId);
  };
  return (
    <div className={styles.tools}>
      {!layer.private && state.published.layers[layer.id] && (
        <a className={styles.wallLink} href={wall} target="_blank" rel="noreferrer">
          Wall sheet, as published
        </a>
      )}
      {!layer.private && state.draft.commands.length > 0 && (
        <a className={styles.wallLink} href={`${wall}?draft=1`} target="_blank" rel="noreferrer">
          Wall sheet, as drafted
        </a>
      )}
      <Button quiet onPress={() => setEditing(true)}>
        Change name, rule or privacy
      </Button>
      <Button quiet onPress={files}>
        Groups in and out as files
      </Button>
      <Button quiet onPress={() => duplicate(true)}>
        Duplicate with its people
      </Button>
      <Button quiet onPress={() => duplicate(false)}>
        Duplicate without people
      </Button>
      <Button quiet onPress={() => store.draft([{ kind: "layer.archive", layerId: layer.id }])}>
        Archive the layer
      </Button>
      <Button quiet onPress={() => store.draft([{ kind: "layer.remove", layerId: layer.id }])}>
        Delete the layer
      </Button>
      {editing && <LayerEdit layer={layer} onClose={() => setEditing(false)} />}
      {away.map((one) => (
        <Button
          key={one.id}
          quiet
          onPress={() => store.draft([{ kind: "layer.restore", layerId: one.id }]) && onLayer(one.id)}
        >
          Bring back {one.name}
        </Button>
      ))}
    </div>
  );
}
