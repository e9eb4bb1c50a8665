import { type SankeyLink, type SankeyNode, sankey, sankeyLinkHorizontal } from "d3-sankey";
import { useMemo } from "react";
import { type Flow, flowsBetween, flowsOf } from "../../../core/placement/flows.ts";
import type { LayerCount } from "../../../core/placement/membership.ts";
import { compareText } from "../../../core/plan/lookup.ts";
import { cut } from "../../../core/text/shorten.ts";
import { stripeColour } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { GroupName } from "../GroupName.tsx";
import styles from "./placement.module.css";
import type { Shown } from "./shown.ts";

interface Node {
  key: string;
  name: string;
  /** 0 for the sections, then a number a layer. */
  column: number;
  colour: string;
  mark: string;
  order: number;
}
const noSection = "no section";
type Laid = SankeyNode<Node, { bundle: Flow }>;
type Thread = SankeyLink<Node, { bundle: Flow }>;

/** Letters of a section's code that are shown, and what one of them and its digits take at most. */
const [mostLetters, letter] = [16, 7.8];
/** Room for the names of sections, with how many are in each, as long as they are here. */
function roomFor(flows: Flow[], nameOf: (sectionId: string | null) => string): number {
  const counts = new Map<string | null, number>();
  for (const { from, personIds } of flows) counts.set(from, (counts.get(from) ?? 0) + personIds.length);
  const lengths = [...counts].map(([id, count]) => `${cut(nameOf(id), mostLetters)} ${count}`.length);
  return Math.max(66, 12 + letter * Math.max(0, ...lengths));
}
/** Room for the threads to the next layer, and for the names of the last. */
const [span, names] = [238, 156];

/** The groups of a layer as nodes of one column. */
function groupNodes({ layer, groups }: LayerCount, column: number): Node[] {
  const own = groups.map(({ group }, order) => ({
    key: `${column} ${group.id}`,
    name: group.name,
    column,
    colour: layer.private ? "var(--ink-soft)" : stripeColour(group.stripe),
    mark: group.stripe.mark,
    order,
  }));
  // Where nobody has to be in a group, those in none are no alarm.
  const none =
    layer.rule === "exactly one"
      ? { name: "Unplaced", colour: "var(--brick)" }
      : { name: "In no group", colour: "var(--rule-strong)" };
  return [...own, { key: `${column} null`, column, mark: "", order: own.length, ...none }];
}

interface StripProps {
  count: LayerCount;
  /** Layers that the threads run on into. */
  further: LayerCount[];
  show(shown: Shown): void;
}
/** Sections as warp on the left, groups as weft on the right, people as threads between. */
export function FlowStrip({ count, further, show }: StripProps) {
  const { plan, t } = useWorkbench();
  const lastColumn = further.length + 1;
  const graph = useMemo(() => {
    const layers = [count, ...further];
    const steps = [flowsOf(plan, count, t), ...further.map((next, at) => flowsBetween(layers[at] as LayerCount, next))];
    const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
    const plain = { column: 0, mark: "" };
    const nodes: Node[] = [
      ...sections.map(({ id, code }, order) => ({ ...plain, key: `0 ${id}`, name: code, colour: "var(--ink)", order })),
      { ...plain, key: "0 null", name: noSection, colour: "var(--brick)", order: sections.length },
      ...layers.flatMap((layer, at) => groupNodes(layer, at + 1)),
    ];
    const links = steps.flatMap((bundles, column) =>
      bundles.map((bundle) => ({
        source: `${column} ${bundle.from}`,
        target: `${column + 1} ${bundle.to}`,
        value: bundle.personIds.length,
        bundle,
      })),
    );
    const used = new Set(links.flatMap(({ source, target }) => [source, target]));
    const shown = nodes.filter(({ key }) => used.has(key));
    if (shown.length === 0) return null;
    const rows = Math.max(...steps.map((_, column) => shown.filter((node) => node.column === column + 1).length), 1);
    const height = Math.max(380, rows * 21);
    const leftEdge = roomFor(steps[0] ?? [], (id) => (id ? (plan.sections[id]?.code ?? "") : noSection));
    const rightEdge = leftEdge + span * (further.length + 1);
    const layout = sankey<Node, { bundle: Flow }>()
      .nodeId(({ key }) => key)
      .nodeAlign((node) => node.column)
      .nodeSort((a, b) => a.order - b.order)
      .nodeWidth(7)
      .nodePadding(Math.min(14, (height * 0.5) / Math.max(1, rows)))
      .extent([
        [leftEdge, 4],
        [rightEdge, height - 4],
      ]);
    return {
      ...layout({ nodes: shown.map((node) => ({ ...node })), links }),
      height,
      leftEdge,
      width: rightEdge + names,
    };
  }, [plan, count, further, t]);
  const empty = count.groups.filter(({ personIds }) => personIds.length === 0);
  if (!graph) return <div className={styles.strip} />;

  const path = sankeyLinkHorizontal<Node, { bundle: Flow }>();
  const words = ({ source, target, bundle }: Thread) =>
    `${(source as Laid).name} to ${(target as Laid).name}: ${plural(bundle.personIds.length, "student")}${bundle.stray ? ", elsewhere than their fellows" : ""}`;
  const open = (link: Thread) =>
    show({
      title: `${(link.source as Laid).name} to ${(link.target as Laid).name}`,
      personIds: link.bundle.personIds,
    });
  return (
    <section className={styles.strip} aria-label="Flow: sections on the left, groups on the right">
      <svg viewBox={`0 0 ${graph.width} ${graph.height}`} width="100%" className={styles.stripPicture}>
        <title>{`How the sections run into the groups of ${count.layer.name}`}</title>
        {(graph.links as Thread[])
          .slice()
          .sort((a, b) => Number(a.bundle.stray) - Number(b.bundle.stray))
          .map((link) => {
            const lost = link.bundle.to === null;
            const colour = lost ? "var(--brick)" : link.bundle.stray ? "var(--amber)" : (link.target as Laid).colour;
            return (
              // A thread is pressed to see its names; as a button it is reached by keyboard too.
              <g
                key={`${(link.source as Laid).key} ${(link.target as Laid).key}`}
                role="button"
                tabIndex={0}
                className={styles.thread}
                data-stray={link.bundle.stray || lost || undefined}
                aria-label={words(link)}
                onClick={() => open(link)}
                onKeyDown={(event) => {
                  if (event.key !== "Enter" && event.key !== " ") return;
                  event.preventDefault();
                  open(link);
                }}
              >
                <title>{words(link)}</title>
                <path d={path(link) ?? ""} stroke={colour} strokeWidth={Math.max(1.5, link.width ?? 1)} fill="none" />
                {threads(link).map((offset) => (
                  <path
                    key={offset}
                    d={path(link) ?? ""}
                    transform={`translate(0 ${offset})`}
                    stroke={colour}
                    strokeWidth={0.8}
                    fill="none"
                    className={styles.fibre}
                  />
                ))}
              </g>
            );
          })}
        {(graph.nodes as Laid[]).map((node) => {
          const middle = ((node.y0 ?? 0) + (node.y1 ?? 0)) / 2;
          const isFirst = node.column === 0;
          const isLast = node.column === lastColumn;
          return (
            <g key={node.key}>
              <rect
                x={node.x0}
                y={node.y0}
                width={7}
                height={Math.max(2, (node.y1 ?? 0) - (node.y0 ?? 0))}
                fill={node.colour}
              />
              <text
                x={isFirst ? graph.leftEdge - 8 : (node.x1 ?? 0) + 5}
                y={middle}
                dominantBaseline="central"
                textAnchor={isFirst ? "end" : "start"}
                className={styles.stripName}
                data-between={(!isFirst && !isLast) || undefined}
              >
                {node.mark && <tspan className={styles.stripMark}>{node.mark} </tspan>}
                {isFirst ? cut(node.name, mostLetters) : node.name.slice(0, 20 - node.mark.length)}
                <tspan className={styles.stripCount}> {node.value}</tspan>
              </text>
            </g>
          );
        })}
      </svg>
      <Legend links={graph.links as Thread[]} />
      {empty.length > 0 && (
        <ul className={styles.emptyGroups} aria-label="Groups without anyone">
          {empty.map(({ group }) => (
            <li key={group.id}>
              <GroupName group={group} /> <strong>0</strong>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** What the two colours that are no group's mean, where they are in the picture. */
function Legend({ links }: { links: Thread[] }) {
  const kinds = [
    { says: "elsewhere than their fellows", colour: "var(--amber)", isOf: isStray },
    { says: "in no group", colour: "var(--brick)", isOf: isLost },
  ].filter(({ isOf }) => links.some(isOf));
  if (kinds.length === 0) return null;
  return (
    <p className={styles.stripLegend}>
      {kinds.map(({ says, colour }) => (
        <span key={says}>
          <svg viewBox="0 0 26 8" width="26" height="8" aria-hidden="true">
            <path d="M1 4h24" stroke={colour} strokeWidth="3" />
          </svg>
          {says}
        </span>
      ))}
    </p>
  );
}
const isLost = ({ bundle }: Thread): boolean => bundle.to === null;
const isStray = (thread: Thread): boolean => !isLost(thread) && thread.bundle.stray;

/** Offsets of the fine lines that make a ribbon read as threads; a dozen at most. */
function threads({ width = 1, bundle }: Thread): number[] {
  const lines = Math.min(bundle.personIds.length, 12, Math.floor(width / 2.5));
  return Array.from({ length: lines }, (_, line) => (line + 0.5) * (width / lines) - width / 2);
}
