import { useMemo, useState } from "react";
import { DropZone, FileTrigger, isFileDropItem } from "react-aria-components";
import { readFile } from "../../../core/formats/read.ts";
import { writeCsv } from "../../../core/formats/text.ts";
import type { TextTable } from "../../../core/formats/text-table.ts";
import {
  groupFileHeader,
  groupFileRows,
  judgeGroupFile,
  type PlacingVerdict,
  placingVerdicts,
} from "../../../core/placement/files/group-file.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import type { Layer } from "../../../core/plan/types.ts";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice } from "../../kit/Fields.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { SaveTable } from "../../kit/SaveTable.tsx";
import { saveFile } from "../../kit/save.ts";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import { type NewLayerFile, RuleChoice } from "./dialogs.tsx";
import styles from "./files.module.css";

interface GroupFilesProps {
  /** The layer that rows are of which name none. */
  layer: Layer | undefined;
  /** Instead: the layer that the file is to make. Nobody leaves a group of another for it. */
  asNew: NewLayerFile | null;
  onClose(): void;
}

/** Groups and memberships out as a file, and in from one, looked at row by row before anything is drafted. */
export function GroupFiles({ layer, asNew, onClose }: GroupFilesProps) {
  const { store, plan, t } = useWorkbench();
  const { layers } = lookup(plan);
  const [which, setWhich] = useState(layer?.id ?? "all");
  const [table, setTable] = useState<TextTable | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [whole, setWhole] = useState(false);
  const [rule, setRule] = useState<Layer["rule"]>(asNew?.rule ?? "at most one");
  const [shown, setShown] = useState<PlacingVerdict | null>(null);
  const ofItself = asNew ? asNew.name || (table?.name.replace(/\.[^.]*$/, "") ?? "") : (layer?.name ?? "");
  const judged = useMemo(() => (table ? judgeGroupFile(plan, table, ofItself, t) : null), [table, plan, ofItself, t]);
  const file = judged && !("wrong" in judged) ? judged : null;
  const rows = file ? file.rows.filter(({ verdict }) => shown === null || verdict === shown) : [];
  const take = async (source: File | undefined) => {
    if (!source) return;
    const content = new Uint8Array(await source.arrayBuffer());
    const read = await readFile({ name: source.name, content });
    if ("unreadable" in read) {
      setTable(null);
      return setFailure(read.sentence);
    }
    setFailure(null);
    setShown(null);
    // The first sheet that holds groups; where none does, the first one says what is missing.
    const fits = read.tables.find((one) => !("wrong" in judgeGroupFile(plan, one, ofItself, t)));
    setTable(fits ?? read.tables[0] ?? null);
  };
  const chosen = which === "all" ? layers.map(({ id }) => id) : [which];
  const fileName = which === "all" ? `${plan.course.code} groups` : `${plan.layers[which]?.name ?? ""}`;
  const draft = () => {
    if (!file || !table) return;
    const accepted = store.draft([
      {
        kind: "layer.takeFile",
        file: table.name,
        newLayerRule: rule,
        groups: file.groups.map(({ layer: own, name, label, leads }) => ({ layer: own, name, label, leads })),
        into: file.into,
        ends: whole ? file.unlisted.map(({ groupId, personId }) => ({ groupId, personId })) : [],
      },
    ]);
    if (accepted) onClose();
  };
  const newLayers = file?.layers.filter(({ id }) => id === null) ?? [];
  const newGroups = file?.groups.filter(({ id }) => id === null).length ?? 0;
  return (
    <Dialog title={asNew ? "A new layer from a file" : "Files of groups"} onClose={onClose} wide>
      {!asNew && (
        <div className={base.bar}>
          <Choice
            label="Groups of"
            hideLabel
            value={which}
            onChange={setWhich}
            options={[
              ...layers.map(({ id, name }) => ({ value: id, label: `Groups of ${name}` })),
              { value: "all", label: "Groups of all layers" },
            ]}
          />
          <SaveTable
            name={fileName}
            table={() => ({ sheet: "Groups", header: groupFileHeader, rows: groupFileRows(plan, chosen, t) })}
          />
        </div>
      )}
      <DropZone
        className={styles.drop as string}
        aria-label="Drop a file of groups"
        onDrop={async ({ items }) => {
          const item = items.find(isFileDropItem);
          if (item) await take(await item.getFile());
        }}
      >
        <span>
          Drop a file of groups here: a column of groups and one of student ids, e-mails or logins; layer, label and
          lead if there are any, in any order.
        </span>
        <FileTrigger onSelect={(files) => void take(files?.[0])}>
          <Button>Choose a file</Button>
        </FileTrigger>
      </DropZone>
      <Wrong>{failure ?? (judged && "wrong" in judged ? judged.wrong : null)}</Wrong>
      {file && (
        <>
          {table?.notes?.map((note) => (
            <p key={note}>{note}</p>
          ))}
          <div className={base.bar} role="group" aria-label="Verdicts">
            <Toggle isSelected={shown === null} onChange={() => setShown(null)}>
              All {file.rows.length}
            </Toggle>
            {placingVerdicts
              .filter((verdict) => file.counts[verdict] > 0)
              .map((verdict) => (
                <Toggle key={verdict} isSelected={shown === verdict} onChange={() => setShown(verdict)}>
                  {verdict} {file.counts[verdict]}
                </Toggle>
              ))}
            {file.counts.unreadable > 0 && (
              <Button
                quiet
                onPress={() =>
                  saveFile(
                    "rows-to-mend.csv",
                    "text/csv",
                    writeCsv(
                      [...file.header, "Line", "Reason"],
                      file.rows
                        .filter(({ verdict }) => verdict === "unreadable")
                        .map(({ cells, line, says }) => [
                          ...file.header.map((_, at) => cells[at] ?? ""),
                          String(line),
                          says,
                        ]),
                    ),
                  )
                }
              >
                Save the unreadable rows
              </Button>
            )}
          </div>
          <Rows count={rows.length} className={styles.rows as string} label="Rows of the file">
            {(index) => {
              const row = rows[index];
              return (
                row && (
                  <div className={base.line}>
                    <span className={styles.line}>{row.line}</span>
                    <span className={`${styles.verdict} ${row.verdict === "unreadable" ? base.wrong : ""}`}>
                      {row.verdict}
                    </span>
                    <span className={styles.says}>{row.says}</span>
                    <span className={base.cut}>{row.cells.filter(Boolean).join(", ")}</span>
                  </div>
                )
              );
            }}
          </Rows>
          <p>
            {plural(file.into.length, "student")} placed
            {newGroups > 0 && `, ${plural(newGroups, "new group")}`}
            {newLayers.length > 0 && `, new layer ${newLayers.map(({ name }) => name).join(" and ")}`}
            {file.unlisted.length > 0 &&
              `; ${plural(file.unlisted.length, "placement")} of these layers ${file.unlisted.length === 1 ? "is" : "are"} not in the file`}
            .
          </p>
          {newLayers.length > 0 && (
            <RuleChoice label="In a new layer each student is in" rule={rule} setRule={setRule} />
          )}
          {file.unlisted.length > 0 && (
            <Checkbox isSelected={whole} onChange={setWhole}>
              The file is the whole of these layers: take out whom it does not list
            </Checkbox>
          )}
        </>
      )}
      <Actions>
        <Button onPress={onClose}>Leave</Button>
        <Button
          strong
          isDisabled={!file || file.groups.length === 0 || file.counts.unreadable === file.rows.length}
          onPress={draft}
        >
          Draft it
        </Button>
      </Actions>
    </Dialog>
  );
}
