/** How dates are decided in the course: the policy, the order of layers, whose meetings count, what is unequal. Section 6. */
import { defineCommand, refuse } from "../plan/command.ts";
import { withCourse } from "../plan/tables.ts";
import { Course } from "../plan/types.ts";

const Rules = Course.pick({ datePolicy: true, layerOrder: true, meetingLayerId: true, unequalShare: true }).partial();

export const timingSettings = [
  defineCommand(
    "course.dateRules",
    { rules: Rules },
    {
      apply(plan, { rules }) {
        const { layerOrder, meetingLayerId } = rules;
        const isGone = (id: string) => id !== "sections" && !plan.layers[id];
        if (layerOrder?.some(isGone) || (meetingLayerId != null && !plan.layers[meetingLayerId]))
          return refuse("layer.gone", "The layer is no longer there.");
        if (layerOrder && new Set(layerOrder).size < layerOrder.length)
          return refuse("layer.twice", "A layer stands in the order only once.");
        return withCourse(plan, rules);
      },
      describe(plan, { rules }) {
        const name = (id: string) =>
          id === "sections" ? "the registrar's sections" : (plan.layers[id]?.name ?? "a removed layer");
        const { datePolicy, layerOrder, meetingLayerId, unequalShare } = rules;
        return (
          [
            datePolicy &&
              `Where two overrides meet, ${datePolicy === "layer order" ? "the first layer" : "the more generous one"} holds`,
            layerOrder && `order of layers: ${layerOrder.map(name).join(", ") || "as they stand"}`,
            meetingLayerId !== undefined &&
              (meetingLayerId === null ? "meetings by section" : `meetings by the groups of ${name(meetingLayerId)}`),
            unequalShare !== undefined && `working time may differ by ${unequalShare} %`,
          ]
            .filter(Boolean)
            .join("; ") || "Date rules as they are"
        );
      },
    },
  ),
] as const;
