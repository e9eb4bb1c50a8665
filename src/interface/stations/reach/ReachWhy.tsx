import { Button } from "../../kit/Button.tsx";
import { Fetched, partOf } from "../../kit/fetched.tsx";
import { useFindings } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { AuditWords, FindingWhy } from "./audit/FindingWhy.tsx";
import { CourseWhy } from "./CourseWhy.tsx";
import { CrossingWhy } from "./CrossingWhy.tsx";
import { ItemWhy } from "./ItemWhy.tsx";
import type { useStranded } from "./useOutline.ts";
import type { ReachState } from "./useReachState.ts";

/** It comes with the editor of texts, which weighs more than the station. */
const itemCard = partOf(async () => (await import("./items/ItemCard.tsx")).ItemCard);

interface ReachWhyProps {
  reach: ReachState;
  stranded: ReturnType<typeof useStranded>;
  setShownItem(itemId: string | null): void;
}

export function ReachWhy({ reach, stranded, setShownItem }: ReachWhyProps) {
  const { written, setWritten, view, setAt } = reach;
  if (written)
    return (
      <Fetched
        key={written.itemId ?? "new"}
        part={itemCard}
        props={{
          written,
          onClose: () => setWritten(null),
          onMade: (itemId) => setAt({ itemId, columnId: null }),
          onShown: setShownItem,
        }}
      />
    );
  return view === "crossings" ? <CrossingsWhy reach={reach} stranded={stranded} /> : <FindingsWhy reach={reach} />;
}

function FindingsWhy({ reach: { findingKey, setView, setShow, setAt } }: { reach: ReachState }) {
  const finding = useFindings().findings.find(({ key }) => key === findingKey);
  if (!finding) return <AuditWords />;
  const go = () => {
    setView("crossings");
    setShow("all");
    setAt({ itemId: finding.itemId ?? "", columnId: null });
  };
  return <FindingWhy key={finding.key} finding={finding} show={{ says: "Show it among the crossings", go }} />;
}

function CrossingsWhy({ reach, stranded }: Pick<ReachWhyProps, "reach" | "stranded">) {
  const { item, columns, at, setAt } = reach;
  if (!item)
    return (
      <CoordinatorOnly>
        <CourseWhy />
      </CoordinatorOnly>
    );
  const column = columns.find(({ id }) => id === at?.columnId);
  const edit = () => reach.edit(item.id);
  return (
    <>
      {column ? (
        <CrossingWhy item={item} column={column} lost={stranded.get(item.id)} edit={edit} />
      ) : (
        <ItemWhy item={item} edit={edit} add={reach.writeInto} choose={reach.showFinding} />
      )}
      <Button quiet onPress={() => setAt(null)}>
        The course as a whole
      </Button>
    </>
  );
}
