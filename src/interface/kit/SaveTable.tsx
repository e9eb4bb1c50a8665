import { type ReactNode, useState } from "react";
import type { OutTable } from "../../core/formats/workbooks/out-table.ts";
import { type TableFormat, tableFormats, writeTable } from "../../core/formats/workbooks/write.ts";
import { Button } from "./Button.tsx";
import { Checkbox } from "./Fields.tsx";
import { saveFile } from "./save.ts";

const types: Record<TableFormat, string> = {
  csv: "text/csv",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  ods: "application/vnd.oasis.opendocument.spreadsheet",
};
/** The choice of whoever sits here: their spreadsheet is the same next time. */
const remembered = "csv-byte-order-mark";

interface SaveTableProps {
  /** The file's name without its ending. */
  name: string;
  /** Made when a format is chosen: a large course's table takes a moment. */
  table(): OutTable;
  /** What stands before the format on each button. */
  verb?: string;
  isDisabled?: boolean;
  /** More formats, of the same bar. */
  children?: ReactNode;
}

/** A table to be saved: delimited text, or a workbook of either standard. */
export function SaveTable({ name, table, verb = "Save as ", isDisabled, children }: SaveTableProps) {
  const [status, setStatus] = useState<"making" | "failed" | null>(null);
  const [byteOrderMark, setByteOrderMark] = useState(() => globalThis.localStorage?.getItem(remembered) === "yes");
  const save = async (format: TableFormat) => {
    const made = table();
    setStatus("making");
    try {
      const bytes = await writeTable(format, made, { byteOrderMark });
      saveFile(`${name}.${format}`, types[format], bytes as BlobPart);
      setStatus(null);
    } catch {
      setStatus("failed");
    }
  };
  const choose = (isOn: boolean) => {
    setByteOrderMark(isOn);
    localStorage.setItem(remembered, isOn ? "yes" : "no");
  };
  return (
    <>
      {tableFormats.map((format) => (
        <Button key={format} onPress={() => void save(format)} isDisabled={isDisabled || status === "making"}>
          {verb}
          {format.toUpperCase()}
        </Button>
      ))}
      {children}
      <Checkbox isSelected={byteOrderMark} onChange={choose}>
        CSV for spreadsheets
      </Checkbox>
      {status === "making" && <span role="status">Making the file</span>}
      {status === "failed" && (
        <span role="alert">
          The file was not made. Check the connection and press again: what makes such files is fetched then.
        </span>
      )}
    </>
  );
}
