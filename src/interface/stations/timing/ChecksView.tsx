import { useState } from "react";
import { isTiming } from "../../../core/reach/audit/finding.ts";
import { useFindings, Why } from "../../workbench/context.tsx";
import { AuditView } from "../reach/audit/AuditView.tsx";
import { FindingWhy } from "../reach/audit/FindingWhy.tsx";
import base from "../station.module.css";

/** What is wrong with dates, or asked about, in the draft: each with whom it touches and what would mend it. */
export function ChecksView({ showItem }: { showItem(itemId: string): void }) {
  const audit = useFindings();
  const [key, setKey] = useState<string | null>(null);
  const finding = audit.findings.find((one) => one.key === key);
  return (
    <>
      <AuditView
        of={isTiming}
        nothing="Every date is in order, each student has one, and no group has much less time than another."
        chosen={key}
        choose={setKey}
      />
      <Why>
        {finding ? (
          <FindingWhy
            key={finding.key}
            finding={finding}
            show={{ says: "Show its dates", go: () => finding.itemId && showItem(finding.itemId) }}
          />
        ) : (
          <p className={base.soft}>Choose a line to see whom it touches, why, and what would mend it.</p>
        )}
      </Why>
    </>
  );
}
