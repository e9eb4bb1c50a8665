/** Settings of the course about who meets and sees what: indexes, class list, telling words, how items are split. Section 4. */
import { defineCommand, put, refuse } from "../../plan/command.ts";
import { withCourse } from "../../plan/tables.ts";
import { Course, type Plan } from "../../plan/types.ts";

/** What the course-wide indexes are called. */
export const indexNames = {
  discussions: "all discussions",
  files: "all files",
  calendar: "the calendar",
  work: "the list of work",
};

const layerName = (plan: Plan, layerId: string) => plan.layers[layerId]?.name ?? "a removed layer";
const hidden = () =>
  refuse(
    "layer.private",
    "A private layer can decide neither who meets whom nor how items are split: students would learn that it exists.",
  );
const gone = () => refuse("layer.gone", "The layer is no longer there.");

export const settingsCommands = [
  defineCommand(
    "course.indexes",
    { indexes: Course.shape.indexes },
    {
      apply: (plan, { indexes }) => withCourse(plan, { indexes }),
      describe: (plan, { indexes }) => {
        const moved = (Object.keys(indexNames) as (keyof typeof indexNames)[]).filter(
          (key) => plan.course.indexes[key] !== indexes[key],
        );
        return (
          moved.map((key) => `Index ${indexNames[key]} ${indexes[key] ? "on" : "off"}`).join(", ") ||
          "Indexes as they are"
        );
      },
    },
  ),
  defineCommand(
    "course.classList",
    { classList: Course.shape.classList },
    {
      apply(plan, { classList }) {
        if (classList.to === "layer") {
          const layer = plan.layers[classList.layerId];
          if (!layer) return gone();
          if (layer.private) return hidden();
        }
        return withCourse(plan, { classList });
      },
      describe: (plan, { classList }) =>
        classList.to === "layer"
          ? `Class list shows those who share a group of ${layerName(plan, classList.layerId)}`
          : `Class list shows ${classList.to}`,
    },
  ),
  defineCommand(
    "course.writing",
    { toStaff: Course.shape.mayWriteToStaff },
    {
      apply: (plan, { toStaff }) => withCourse(plan, { mayWriteToStaff: toStaff }),
      describe: (_plan, { toStaff }) =>
        toStaff ? "Students may write to their instructors" : "Students may not write to their instructors",
    },
  ),
  defineCommand(
    "course.comparing",
    { withOthers: Course.shape.mayCompareWithOthers },
    {
      apply: (plan, { withOthers }) => withCourse(plan, { mayCompareWithOthers: withOthers }),
      describe: (_plan, { withOthers }) =>
        withOthers
          ? "Instructors may compare with all other students, as sums"
          : "Instructors may not compare with other students",
    },
  ),
  defineCommand(
    "course.tellingWords",
    { words: Course.shape.tellingWords },
    {
      apply: (plan, { words }) =>
        withCourse(plan, { tellingWords: [...new Set(words.map((word) => word.toLowerCase()))] }),
      describe: (_, { words }) => `${words.length} telling words`,
    },
  ),
  defineCommand(
    "course.splitting",
    { splitting: Course.shape.splitting },
    {
      apply(plan, { splitting }) {
        const next = withCourse(plan, { splitting });
        if (!splitting) return next;
        const layer = plan.layers[splitting.layerId];
        if (!layer) return gone();
        if (layer.private) return hidden();
        // What is decided once holds for every item that is split already.
        const { layerId, between } = splitting;
        const split = Object.values(plan.items).filter(
          (item) => item.split && (item.split.layerId !== layerId || item.split.between !== between),
        );
        return put(
          next,
          "items",
          split.map((item) => ({ ...item, split: { layerId, between } })),
        );
      },
      describe: (plan, { splitting }) =>
        splitting
          ? `Every split item along ${layerName(plan, splitting.layerId)}, ${splitting.between}${splitting.locked ? ", locked" : ""}`
          : "Each item is split as it says itself",
    },
  ),
] as const;
