type Listener = (name: string) => void;
const listeners = new Set<Listener>();

/** Hears the name of every file that is handed over, until what it gives back is called. */
export function onSave(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Hands a file to the browser, to be saved where its person says. */
export function saveFile(name: string, type: string, content: BlobPart): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([content], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
  for (const listener of listeners) listener(name);
}
