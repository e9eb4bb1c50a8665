import { compareText, lookup } from "../../../core/plan/lookup.ts";
import { Choice } from "../../kit/Fields.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import type { IntakeState } from "./useIntake.ts";

/** What a list is for: to be taken in, or only to be held against the course, a section or a group. */
export function Purpose({ intake: { scope, setScope } }: { intake: IntakeState }) {
  const { plan } = useWorkbench();
  const { layers, groupsOfLayer } = lookup(plan);
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  if (sections.length === 0) return null;
  const options = [
    { value: "take in", label: "Take it in" },
    { value: "course", label: "Only compare with the course" },
    ...sections.map(({ id, code }) => ({ value: `section ${id}`, label: `Only compare with section ${code}` })),
    ...layers.flatMap(({ id, name }) =>
      (groupsOfLayer.get(id) ?? []).map((group) => ({
        value: `group ${group.id}`,
        label: `Only compare with ${group.name} (${name})`,
      })),
    ),
  ];
  const value = !scope ? "take in" : scope.kind === "course" ? "course" : `${scope.kind} ${scope.id}`;
  const choose = (next: string) => {
    const [kind, id = ""] = next.split(" ");
    if (kind === "group" || kind === "section") setScope({ kind, id });
    else setScope(next === "course" ? { kind: "course" } : null);
  };
  return <Choice label="What to do with this list" hideLabel value={value} options={options} onChange={choose} />;
}
