import { useEffect, useRef, useState } from "react";
import { RichText } from "../kit/RichText.tsx";
import { keepForm, keptValueOf } from "./forms/keeping.ts";

/** Rich text as a field of a plain form. */
export function PostField({ label, text, name = "post" }: { label: string; text: string; name?: string }) {
  const [html, setHtml] = useState(text);
  /** How often what was kept was put back: the editor begins anew with it. */
  const [restored, setRestored] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const input = field.current;
    const restore = (event: Event) => {
      setHtml((event as CustomEvent<string>).detail);
      setRestored((times) => times + 1);
    };
    input?.addEventListener("restore", restore);
    // What was kept may have been put back before this listened.
    const kept = input && keptValueOf(input);
    if (kept !== undefined && kept !== null && kept !== text) {
      setHtml(kept);
      setRestored((times) => times + 1);
    }
    return () => input?.removeEventListener("restore", restore);
  }, [text]);
  const write = (next: string) => {
    setHtml(next);
    const input = field.current;
    if (!input) return;
    input.value = next;
    if (input.form) keepForm(input.form);
  };
  return (
    <>
      <RichText key={restored} label={label} value={html} onChange={write} />
      <input ref={field} type="hidden" name={name} value={html} data-was={text} onChange={() => {}} />
    </>
  );
}
