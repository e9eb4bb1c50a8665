/** Letting a finding stand, with a reason, and taking that back. Source: semantics.md section 4. */
import { defineCommand, drop, put, refuse } from "../../plan/command.ts";
import { Acceptance } from "../../plan/types.ts";

export const findingCommands = [
  defineCommand(
    "finding.accept",
    { finding: Acceptance.shape.finding, state: Acceptance.shape.state, reason: Acceptance.shape.reason },
    {
      apply(plan, { id, finding, state, reason }, { now }) {
        const before = Object.values(plan.acceptances).filter((one) => one.finding === finding);
        const rest = drop(
          plan,
          "acceptances",
          before.map((one) => one.id),
        );
        return put(rest, "acceptances", [{ id, finding, state, reason, at: now }]);
      },
      describe: (_, { reason }) => `Let a finding stand: ${reason}`,
    },
  ),
  defineCommand(
    "finding.reopen",
    { finding: Acceptance.shape.finding },
    {
      apply(plan, { finding }) {
        const before = Object.values(plan.acceptances).filter((one) => one.finding === finding);
        if (before.length === 0) return refuse("finding.open", "This finding is not let stand.");
        return drop(
          plan,
          "acceptances",
          before.map((one) => one.id),
        );
      },
      describe: () => "A finding that was let stand is open again",
    },
  ),
] as const;
