import { useState } from "react";
import type { JudgedMark } from "../../../core/gradebook/entry.ts";
import { writeGradebookArchive } from "../../../core/gradebook/files/oneroster.ts";
import { readMarks } from "../../../core/gradebook/files/read.ts";
import { judgeEntries, marksTable } from "../../../core/gradebook/files/table.ts";
import type { Sheet } from "../../../core/gradebook/sheet.ts";
import type { Item } from "../../../core/plan/types.ts";
import type { DecimalSign } from "../../../core/text/numbers.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { FileButton } from "../../kit/FileButton.tsx";
import { SaveTable } from "../../kit/SaveTable.tsx";
import { saveFile } from "../../kit/save.ts";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { JudgedDialog } from "./JudgedDialog.tsx";
import type { Marks } from "./useMarks.ts";

/** How numbers are written in the files of whoever sits here. */
const remembered = "decimal-sign";

interface FilesProps {
  sheet: Sheet;
  /** The students of the filter in view, and the columns that are shown. */
  rows: string[];
  columns: Item[];
  marks: Marks;
  onClose(): void;
}

/** The filter in view out as a file, and marks read back with a look at what they would change. */
export function MarksFilesDialog({ sheet, rows, columns, marks, onClose }: FilesProps) {
  const { plan, t } = useWorkbench();
  const [under, setUnder] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [sign, setSign] = useState<DecimalSign | "own">(
    () => (localStorage.getItem(remembered) as DecimalSign) ?? "own",
  );
  const choose = (chosen: DecimalSign | "own") => {
    setSign(chosen);
    if (chosen === "own") localStorage.removeItem(remembered);
    else localStorage.setItem(remembered, chosen);
  };
  const [read, setRead] = useState<{ name: string; judged: JudgedMark[]; ignored: string[]; notes: string[] } | null>(
    null,
  );
  const name = `${plan.course.code} marks`;
  const take = async (chosen: File) => {
    setWrong(null);
    setUnder(`Reading ${chosen.name}`);
    const found = await readMarks(chosen.name, new Uint8Array(await chosen.arrayBuffer()), sheet.columns);
    setUnder(null);
    if ("unreadable" in found) return setWrong(found.sentence);
    setRead({ ...found, judged: judgeEntries(sheet, found.entries, new Set(rows), sign === "own" ? null : sign) });
  };
  if (read)
    return (
      <JudgedDialog
        title={`Marks of ${read.name}`}
        judged={read.judged}
        marks={marks}
        onClose={onClose}
        note={
          [
            ...(read.ignored.length > 0 ? [`Not marks, so not read: ${read.ignored.join(", ")}.`] : []),
            ...read.notes,
          ].join(" ") || undefined
        }
      />
    );
  return (
    <Dialog title="Marks in and out" onClose={onClose}>
      <p>
        {plural(rows.length, "student")} and {plural(columns.length, "column")}, as the filter and the grid have them.
      </p>
      <div className={base.bar}>
        <SaveTable
          name={name}
          table={() => ({ sheet: "Marks", ...marksTable(sheet, rows, columns) })}
          isDisabled={under !== null}
        >
          <Button
            onPress={() => saveFile(`${name}.zip`, "application/zip", writeGradebookArchive(sheet, rows, columns, t))}
            isDisabled={under !== null}
          >
            Save as OneRoster
          </Button>
        </SaveTable>
      </div>
      <p className={base.soft}>
        Read back, students are matched by id, username or email, and columns by title. Every mark is looked at before
        anything changes; those of students outside this filter change nothing.
      </p>
      <Choice<DecimalSign | "own">
        label="Numbers in the file"
        value={sign}
        onChange={choose}
        options={[
          { value: "own", label: "as the file itself shows" },
          { value: ".", label: "1,234.5" },
          { value: ",", label: "1.234,5" },
        ]}
      />
      <FileButton
        accept=".csv,.tsv,.txt,.xlsx,.ods,.zip"
        testId="marks"
        isDisabled={under !== null}
        onChoose={(chosen) => void take(chosen)}
      >
        Read marks back
      </FileButton>
      {under && <p role="status">{under}</p>}
      {wrong && (
        <p role="alert" className={base.wrong}>
          {wrong}
        </p>
      )}
      <Actions>
        <Button onPress={onClose}>Leave</Button>
      </Actions>
    </Dialog>
  );
}
