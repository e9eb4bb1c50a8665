/** Questions out to files and in again: a table for a sheet, IMS QTI 2.1 for other programs. */
import { useState } from "react";
import { v7 } from "uuid";
import { withMore } from "../../../../core/attempts/editing.ts";
import { questionHeader, questionRows, readQuestionTable } from "../../../../core/attempts/files/table.ts";
import { readFile } from "../../../../core/formats/read.ts";
import { type Quiz, questionsOf } from "../../../../core/plan/questions.ts";
import { Button } from "../../../kit/Button.tsx";
import { FileButton } from "../../../kit/FileButton.tsx";
import { notFetched, orNull } from "../../../kit/fetched.tsx";
import { SaveTable } from "../../../kit/SaveTable.tsx";
import { saveFile } from "../../../kit/save.ts";
import { plural } from "../../../kit/words.ts";
import base from "../../station.module.css";
import styles from "./questions.module.css";

interface QuestionFilesProps {
  quiz: Quiz | null;
  title: string;
  onChange(quiz: Quiz): void;
}
interface Taken {
  says: string;
  troubles: string[];
}

/** What a file holds, whichever of the formats it is of; a sentence where it holds none. */
async function readQuestions(file: File): Promise<{ quiz: Quiz; troubles: string[] } | string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  if (/\.(xml|zip|imscc)$/i.test(file.name)) {
    const reader = await orNull(import("../../../../core/reach/outline/qti/read.ts"));
    if (!reader) return notFetched;
    const found = reader.readQti(bytes, file.name, v7);
    if (typeof found === "string") return found;
    return { quiz: found.quiz, troubles: found.troubles.map(({ place, says }) => `${place}: ${says}`) };
  }
  const read = await readFile({ name: file.name, content: bytes });
  if ("unreadable" in read) return read.sentence;
  const [table] = read.tables;
  const found = table ? readQuestionTable(table, v7) : "There is no table in it.";
  if (typeof found === "string") return found;
  return { quiz: found.quiz, troubles: found.troubles.map(({ line, says }) => `Line ${line}: ${says}`) };
}

export function QuestionFiles({ quiz, title, onChange }: QuestionFilesProps) {
  const [taken, setTaken] = useState<Taken | null>(null);
  const name = `${title.trim() || "Quiz"} questions`;
  const take = async (file: File) => {
    const read = await readQuestions(file);
    if (typeof read === "string") return setTaken({ says: read, troubles: [] });
    const count = questionsOf(read.quiz).length;
    if (count > 0) onChange(withMore(quiz, read.quiz));
    const left = read.troubles.length > 0 ? `; ${read.troubles.length} to look at` : "";
    setTaken({ says: `${plural(count, "question")} taken from ${file.name}${left}.`, troubles: read.troubles });
  };
  const saveQti = async (written: Quiz) => {
    const writer = await orNull(import("../../../../core/reach/outline/qti/write.ts"));
    if (!writer) return setTaken({ says: notFetched, troubles: [] });
    saveFile(`${name}.zip`, "application/zip", writer.writeQti(written, title) as BlobPart);
  };
  return (
    <div className={styles.files}>
      <div className={base.bar}>
        <FileButton
          accept=".csv,.tsv,.txt,.xlsx,.ods,.xml,.zip,.imscc"
          testId="questions-file"
          onChoose={(file) => void take(file)}
        >
          Take in from a file
        </FileButton>
        {quiz && (
          <SaveTable
            name={name}
            verb=""
            table={() => ({ sheet: "Questions", header: questionHeader(quiz), rows: questionRows(quiz) })}
          >
            <Button onPress={() => void saveQti(quiz)}>QTI</Button>
          </SaveTable>
        )}
      </div>
      <p className={base.soft}>
        A sheet with a row a question, or IMS QTI 2.1; what is taken stands behind what is there.
      </p>
      {taken && (
        <div role="status">
          <p>{taken.says}</p>
          {taken.troubles.length > 0 && (
            <ul>
              {taken.troubles.slice(0, 20).map((trouble) => (
                <li key={trouble} className={base.wrong}>
                  {trouble}
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </div>
  );
}
