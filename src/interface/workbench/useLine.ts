/** The line of the top rule: what is typed there, read as a change or a way, and done. */
import { useCallback, useState } from "react";
import { v7 } from "uuid";
import { dayOf } from "../../core/clock/local-time.ts";
import { completionsOf } from "../../core/line/complete.ts";
import { readLine, readLines, type Way } from "../../core/line/line.ts";
import { readMoment } from "../../core/timing/typing/typed.ts";
import type { MessageDraft } from "../messages/MessageDialog.tsx";
import { useWorkbench } from "./context.tsx";
import type { NewCommand } from "./store.ts";
import { useLineContext } from "./useLineContext.ts";

export function useLine() {
  const { store, plan, t } = useWorkbench();
  const [writing, setWriting] = useState<MessageDraft | null>(null);
  const context = useLineContext();

  function look({ personId, when }: Way & { kind: "look" }): void {
    const { course } = plan;
    const read = readMoment(when, {
      course,
      today: dayOf(t, course.timeZone),
      from: null,
      usualTime: "12:00",
    });
    if ("wrong" in read) {
      store.tell("wrong", read.wrong);
      return;
    }
    const at = typeof read.value === "string" && read.value !== "none" ? `wall=${read.value}` : `at=${t}`;
    open(`/look/${store.courseId}/${personId}?draft=1&${at}`, "_blank", "noreferrer");
  }

  const read = useCallback((text: string) => readLine(text, context, v7), [context]);
  const complete = useCallback((text: string) => completionsOf(text, context), [context]);
  return {
    read,
    complete,
    readAll: (texts: string[]) => readLines(texts, context, v7),
    draft: (commands: NewCommand[]) => store.draft(commands),
    follow(way: Way): void {
      if (way.kind === "write") setWriting({ to: way.to, body: way.body });
      else look(way);
    },
    writing,
    stopWriting: () => setWriting(null),
  };
}
