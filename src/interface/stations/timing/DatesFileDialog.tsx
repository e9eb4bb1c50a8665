import { useState } from "react";
import { dayOf } from "../../../core/clock/local-time.ts";
import { readFile } from "../../../core/formats/read.ts";
import {
  type DatesFile,
  type DatesRow,
  datesCommands,
  datesHeader,
  datesRows,
  readDatesFile,
} from "../../../core/timing/typing/dates-file.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { FileButton } from "../../kit/FileButton.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { SaveTable } from "../../kit/SaveTable.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { fieldNames, sayValue } from "./sayValue.ts";

/** The whole table of dates out to a spreadsheet, and back: every change is looked at before it is drafted. */
export function DatesFileDialog({ onClose }: { onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const [file, setFile] = useState<DatesFile | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [under, setUnder] = useState<string | null>(null);
  const name = `${plan.course.code} dates`;
  const take = async (chosen: File) => {
    setFile(null);
    setWrong(null);
    setUnder(`Reading ${chosen.name}`);
    const bytes = new Uint8Array(await chosen.arrayBuffer());
    const read = await readFile({ name: chosen.name, content: bytes });
    setUnder(null);
    if ("unreadable" in read) return setWrong(read.sentence);
    const found = readDatesFile(plan, read.tables, dayOf(t, plan.course.timeZone));
    if ("wrong" in found) setWrong(found.wrong);
    else setFile(found);
  };
  const shown = file?.rows.filter(({ verdict }) => verdict !== "same") ?? [];
  const changed = shown.filter(({ verdict }) => verdict === "changed");
  const unreadable = shown.length - changed.length;
  const draft = () => {
    const commands = datesCommands(changed);
    if (commands.length > 0 && store.draft(commands)) onClose();
  };
  return (
    <Dialog title="The table of dates" onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        <p className={base.soft}>
          A row an item, and a row for each who has dates of their own. Dates are written as they can be typed here:
          2026-10-05 09:00, m6 start, none; an empty cell is not set. Nothing is drafted before you have looked at it.
        </p>
        <div className={base.bar}>
          <SaveTable
            name={name}
            table={() => ({ sheet: "Dates", header: datesHeader, rows: datesRows(plan) })}
            isDisabled={under !== null}
          />
          <span className={base.push} />
          <FileButton
            accept=".csv,.tsv,.txt,.xlsx,.ods"
            testId="dates"
            isDisabled={under !== null}
            onChoose={(chosen) => void take(chosen)}
          >
            Read a table back
          </FileButton>
        </div>
        {under && <p role="status">{under}</p>}
        {wrong && (
          <p role="alert" className={base.wrong}>
            {wrong}
          </p>
        )}
        {file && (
          <>
            <p>
              {plural(changed.length, "row")} changed, {file.rows.length - shown.length} the same
              {unreadable > 0 && (
                <span className={base.wrong}>, {plural(unreadable, "row")} cannot be used and change nothing</span>
              )}
              {file.unlisted > 0 && `; ${plural(file.unlisted, "override")} not in the file stay as they are`}.
              {file.notes.map((note) => ` ${note}`)}
            </p>
            <Rows count={shown.length} label="Rows that change something" upTo="44vh">
              {(at) => <FileRow row={shown[at] as DatesRow} />}
            </Rows>
          </>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={changed.length === 0}>
            Draft {plural(changed.length, "row")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

const FileRow = ({ row: { line, item, who, verdict, changes, wrong } }: { row: DatesRow }) => (
  <div className={base.line}>
    <span className={base.soft}>line {line}</span>
    {verdict === "unreadable" ? (
      <span className={base.wrong}>{wrong}</span>
    ) : (
      <>
        <span className={base.cut}>
          {item?.title}, {who}
        </span>
        <span className={base.push} />
        {changes.map(({ field, from, to }) => (
          <span key={field}>
            {fieldNames[field].toLowerCase()} <s>{sayValue(from)}</s> <strong>{sayValue(to)}</strong>
          </span>
        ))}
      </>
    )}
  </div>
);
