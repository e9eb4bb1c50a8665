import { FileSpreadsheet } from "lucide-react";
import { useEffect, useState } from "react";
import { DropZone, FileTrigger } from "react-aria-components";
import * as api from "../../../api/intake.ts";
import { sayInstant } from "../../../core/clock/local-time.ts";
import type { SourceFile } from "../../../core/formats/read.ts";
import { Button } from "../../kit/Button.tsx";
import { Dialog } from "../../kit/Dialog.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import { Feed } from "./Feed.tsx";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";
import { Work } from "./Work.tsx";

/** Where rosters come in: dropped, pasted, or drawn from the registrar; and what was taken in before. */
export function TakeIn({ intake }: { intake: IntakeState }) {
  const { plan } = useWorkbench();
  return (
    <>
      <Drop intake={intake} />
      {intake.unreadable.map(({ name, sentence }) => (
        <Wrong key={name}>{sentence}</Wrong>
      ))}
      {Object.keys(plan.sections).length === 0 && (
        <p className={base.soft}>
          This course is empty. Drop a roster to begin: its sections, people and a group for each section come out of
          it.
        </p>
      )}
      <Feed intake={intake} />
      <Past intake={intake} />
    </>
  );
}

const bytesOf = async (file: File): Promise<SourceFile> => ({
  name: file.name,
  content: new Uint8Array(await file.arrayBuffer()),
});

function Drop({ intake }: { intake: IntakeState }) {
  const { take, under } = intake;
  const takeFiles = async (files: File[]) => {
    if (files.length > 0) await take(await Promise.all(files.map(bytesOf)));
  };
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      if ((event.target as HTMLElement).closest("input, textarea")) return;
      const text = event.clipboardData?.getData("text/plain");
      if (text?.includes("\n")) void take([{ name: "pasted rows", content: text }]);
    };
    addEventListener("paste", paste);
    return () => removeEventListener("paste", paste);
  }, [take]);
  return (
    <DropZone
      className={styles.drop as string}
      aria-label="Drop rosters here"
      onDrop={async (event) => {
        const files = await Promise.all(
          event.items.filter((item) => item.kind === "file").map((item) => item.getFile()),
        );
        await takeFiles(files);
      }}
    >
      <FileSpreadsheet size={30} strokeWidth={1.4} aria-hidden />
      <div>
        <h3 className={styles.dropTitle}>Drop the registrar's rosters here</h3>
        <p className={base.soft}>
          One merged list or a file a section, as CSV, XLSX, ODS or a OneRoster archive; or paste rows from a
          spreadsheet. Nothing changes until you have looked.
        </p>
      </div>
      {under ? (
        <Work intake={intake} />
      ) : (
        <FileTrigger
          allowsMultiple
          acceptedFileTypes={[".csv", ".tsv", ".txt", ".xlsx", ".ods", ".zip", "text/csv"]}
          onSelect={(list) => takeFiles(Array.from(list ?? []))}
        >
          <Button strong>Choose files</Button>
        </FileTrigger>
      )}
    </DropZone>
  );
}

function Past({ intake }: { intake: IntakeState }) {
  const { store, plan } = useWorkbench();
  const [opened, setOpened] = useState<{ intake: api.PastIntake; looked: api.LookedAt } | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const open = async (one: api.PastIntake) => {
    const looked = await ask(store.address, api.openIntake, { params: { intake: one.id } });
    if (isFailure(looked)) store.tell("wrong", looked.detail);
    else setOpened({ intake: one, looked });
  };
  const undo = async (one: api.PastIntake) => {
    setRefusal(null);
    const answer = await ask(store.address, api.undoIntake, { params: { intake: one.id } });
    if (isFailure(answer)) return setRefusal(answer.detail);
    await Promise.all([store.load(), intake.fetchPast()]);
    store.tell("done", `Taken back: the course is as it was before ${one.files.join(", ")}.`);
  };
  if (intake.past.length === 0) return null;
  return (
    <section aria-label="Earlier intakes">
      <h3 className={styles.part}>Earlier intakes</h3>
      <Wrong>{refusal}</Wrong>
      <table className={base.table}>
        <tbody>
          {intake.past.map((one) => {
            const { id, at, by, files, counts, undoneAt, undoneBy } = one;
            return (
              <tr key={id} className={undoneAt === null ? "" : (base.soft as string)}>
                <td>{sayInstant(at, plan.course.timeZone)}</td>
                <td>{files.join(", ")}</td>
                <td>
                  {counts.new ?? 0} new, {counts.moved ?? 0} moved, {counts.changed ?? 0} changed, {counts.missing ?? 0}{" "}
                  left
                </td>
                <td>{by}</td>
                <td className={styles.acts}>
                  <Button quiet onPress={() => open(one)} aria-label={`Open the intake of ${files.join(", ")}`}>
                    Open
                  </Button>
                  {undoneAt === null ? (
                    <Button quiet onPress={() => undo(one)} aria-label={`Take back the intake of ${files.join(", ")}`}>
                      Take back
                    </Button>
                  ) : (
                    `taken back by ${undoneBy ?? "somebody"}`
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {opened && (
        <Dialog title={`Intake of ${opened.intake.files.join(", ")}`} onClose={() => setOpened(null)}>
          <p className={base.soft}>
            {plural(opened.looked.rows.length, "row")}, applied by {opened.intake.by} on{" "}
            {sayInstant(opened.intake.at, plan.course.timeZone)}
          </p>
          <Rows
            count={opened.looked.rows.length + opened.looked.missing.length}
            className={styles.openedRows as string}
            label="Rows as they were applied"
          >
            {(index) => {
              const row = opened.looked.rows[index];
              const gone = opened.looked.missing[index - opened.looked.rows.length];
              return (
                <div className={base.line}>
                  <span className={styles.lineNumber}>{row?.line}</span>
                  <span className={styles.verdict}>{row?.verdict ?? "missing"}</span>
                  <span className={styles.name}>{row?.name ?? gone?.name}</span>
                  <span className={styles.id}>{row?.sourcedId ?? gone?.sourcedId}</span>
                  <span className={styles.code}>{row?.sectionCode}</span>
                  <span className={base.cut}>{row?.says}</span>
                </div>
              );
            }}
          </Rows>
        </Dialog>
      )}
    </section>
  );
}
