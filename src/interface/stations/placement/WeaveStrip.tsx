import { type SankeyLink, type SankeyNode, sankey, sankeyLinkHorizontal } from "d3-sankey";
import { useMemo } from "react";
import type { LayerCount } from "../../../core/placement/membership.ts";
import { type Bundle, weave } from "../../../core/placement/weave.ts";
import { compareText } from "../../../core/plan/lookup.ts";
import { useBench } from "../../bench/context.tsx";
import { Stripe, stripeColour } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import styles from "./placement.module.css";
import type { Shown } from "./shown.ts";

interface Node {
  key: string;
  name: string;
  side: "section" | "group";
  colour: string;
  mark: string;
  order: number;
}
type Laid = SankeyNode<Node, { bundle: Bundle }>;
type Thread = SankeyLink<Node, { bundle: Bundle }>;

const width = 460;
const leftEdge = 66;
const rightEdge = width - 156;

/** Sections as warp on the left, groups as weft on the right, people as threads between. */
export function WeaveStrip({ count, show }: { count: LayerCount; show(shown: Shown): void }) {
  const { plan, t } = useBench();
  const graph = useMemo(() => {
    const bundles = weave(plan, count, t);
    const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
    const nodes: Node[] = [
      ...sections.map((section, order) => ({
        key: `s ${section.id}`,
        name: section.code,
        side: "section" as const,
        colour: "var(--ink)",
        mark: "",
        order,
      })),
      {
        key: "s null",
        name: "no section",
        side: "section",
        colour: "var(--brick)",
        mark: "",
        order: sections.length,
      },
      ...count.groups.map(({ group }, order) => ({
        key: `g ${group.id}`,
        name: group.name,
        side: "group" as const,
        colour: count.layer.private ? "var(--ink-soft)" : stripeColour(group.stripe),
        mark: group.stripe.mark,
        order,
      })),
      {
        key: "g null",
        name: "Unplaced",
        side: "group",
        colour: "var(--brick)",
        mark: "",
        order: count.groups.length,
      },
    ];
    const used = new Set(bundles.flatMap(({ sectionId, groupId }) => [`s ${sectionId}`, `g ${groupId}`]));
    const shown = nodes.filter(({ key }) => used.has(key));
    if (shown.length === 0) return null;
    const rows = Math.max(
      ...(["section", "group"] as const).map((side) => shown.filter((node) => node.side === side).length),
    );
    const height = Math.max(380, rows * 21);
    const layout = sankey<Node, { bundle: Bundle }>()
      .nodeId(({ key }) => key)
      .nodeSort((a, b) => a.order - b.order)
      .nodeWidth(7)
      .nodePadding(Math.min(14, (height * 0.5) / Math.max(1, rows)))
      .extent([
        [leftEdge, 4],
        [rightEdge, height - 4],
      ]);
    const links = bundles.map((bundle) => ({
      source: `s ${bundle.sectionId}`,
      target: `g ${bundle.groupId}`,
      value: bundle.personIds.length,
      bundle,
    }));
    return { ...layout({ nodes: shown.map((node) => ({ ...node })), links }), height };
  }, [plan, count, t]);
  const empty = count.groups.filter(({ personIds }) => personIds.length === 0);
  if (!graph) return <div className={styles.strip} />;

  const path = sankeyLinkHorizontal<Node, { bundle: Bundle }>();
  const words = ({ source, target, bundle }: Thread) =>
    `${(source as Laid).name} to ${(target as Laid).name}: ${plural(bundle.personIds.length, "student")}${bundle.stray ? ", elsewhere than their fellows" : ""}`;
  const open = (link: Thread) =>
    show({
      title: `${(link.source as Laid).name} to ${(link.target as Laid).name}`,
      personIds: link.bundle.personIds,
    });
  return (
    <section className={styles.strip} aria-label="Weave strip: sections on the left, groups on the right">
      <svg viewBox={`0 0 ${width} ${graph.height}`} width="100%" className={styles.stripPicture}>
        <title>{`How the sections run into the groups of ${count.layer.name}`}</title>
        {(graph.links as Thread[])
          .slice()
          .sort((a, b) => Number(a.bundle.stray) - Number(b.bundle.stray))
          .map((link) => {
            const lost = link.bundle.groupId === null;
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
          const left = node.side === "section";
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
                x={left ? leftEdge - 8 : rightEdge + 8}
                y={middle}
                dominantBaseline="central"
                textAnchor={left ? "end" : "start"}
                className={styles.stripName}
              >
                {node.mark && <tspan className={styles.stripMark}>{node.mark} </tspan>}
                {left ? "" : node.name.slice(0, 20 - node.mark.length)}
                {left && node.name}
                <tspan className={styles.stripCount}> {node.value}</tspan>
              </text>
            </g>
          );
        })}
      </svg>
      {empty.length > 0 && (
        <ul className={styles.emptyGroups} aria-label="Groups without anyone">
          {empty.map(({ group }) => (
            <li key={group.id}>
              <Stripe stripe={group.stripe} isPrivate={count.layer.private} /> {group.name} <strong>0</strong>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** Offsets of the fine lines that make a ribbon read as threads; a dozen at most. */
function threads({ width = 1, bundle }: Thread): number[] {
  const lines = Math.min(bundle.personIds.length, 12, Math.floor(width / 2.5));
  return Array.from({ length: lines }, (_, line) => (line + 0.5) * (width / lines) - width / 2);
}
