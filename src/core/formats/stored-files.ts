/** Files that may be stored and how they are served: by their name's ending, never by what the sender says. */
import { sayDecimal, sayNumber } from "../text/locale.ts";

export const mostBytes = 50 * 1024 * 1024;

/** `shown`: the browser shows it in place; anything else is only ever downloaded. */
const types: Record<string, { type: string; shown: boolean }> = {
  pdf: { type: "application/pdf", shown: false },
  txt: { type: "text/plain; charset=utf-8", shown: true },
  csv: { type: "text/csv; charset=utf-8", shown: false },
  md: { type: "text/plain; charset=utf-8", shown: true },
  png: { type: "image/png", shown: true },
  jpg: { type: "image/jpeg", shown: true },
  jpeg: { type: "image/jpeg", shown: true },
  gif: { type: "image/gif", shown: true },
  webp: { type: "image/webp", shown: true },
  tif: { type: "image/tiff", shown: false },
  tiff: { type: "image/tiff", shown: false },
  mp3: { type: "audio/mpeg", shown: true },
  wav: { type: "audio/wav", shown: true },
  mp4: { type: "video/mp4", shown: true },
  docx: { type: "application/vnd.openxmlformats-officedocument.wordprocessingml.document", shown: false },
  xlsx: { type: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", shown: false },
  pptx: { type: "application/vnd.openxmlformats-officedocument.presentationml.presentation", shown: false },
  odt: { type: "application/vnd.oasis.opendocument.text", shown: false },
  ods: { type: "application/vnd.oasis.opendocument.spreadsheet", shown: false },
  odp: { type: "application/vnd.oasis.opendocument.presentation", shown: false },
  rtf: { type: "application/rtf", shown: false },
  epub: { type: "application/epub+zip", shown: false },
  zip: { type: "application/zip", shown: false },
  json: { type: "application/json", shown: false },
  geojson: { type: "application/geo+json", shown: false },
  gpx: { type: "application/gpx+xml", shown: false },
  kml: { type: "application/vnd.google-earth.kml+xml", shown: false },
};

export const storableEndings = Object.keys(types);

/** What a file chooser may offer, as HTML's `accept` has it. */
export const acceptedFiles = storableEndings.map((ending) => `.${ending}`).join();
/** What is taken, for whoever is about to choose a file. */
export const saysFiles = `Documents, tables, pictures, sound, film and .zip, up to ${mostBytes / 1024 / 1024} MB.`;
/** How large a file may be, and what to do with a larger one. */
export const saysMost = `${mostBytes / 1024 / 1024} MB is the most. Make it smaller or link to it.`;

const endingOf = (name: string): string => /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? "";

/** What a file is by its name; null where files of that ending are not taken. */
export const typeOf = (name: string): { type: string; shown: boolean } | null => types[endingOf(name)] ?? null;

/** Why a file cannot be stored, with what to do; null where it can. */
export function fileTrouble(name: string, size: number): string | null {
  if (size === 0) return `${name} is empty.`;
  if (!typeOf(name))
    return `${name} cannot be stored: files ending in "${endingOf(name) || "nothing"}" are not taken, since they could run in a reader's browser. Save it as a PDF or pack it into a .zip.`;
  if (size > mostBytes) return `${name} has ${Math.ceil(size / 1024 / 1024)} MB; ${saysMost}`;
  return null;
}

/** A name without anything that a header or a path could stumble over. */
export const plainName = (name: string): string =>
  name
    .normalize("NFC")
    .replace(/^.*[/\\]/, "")
    // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is taken out
    .replace(/[\u0000-\u001f"<>|:*?]/g, "_")
    .slice(-200)
    // The end is kept, for its ending: half of a pair may stand before it.
    .toWellFormed()
    .replace(/^\ufffd/, "") || "file";

/** "12 KB", "1.4 MB". */
export const sayBytes = (bytes: number): string =>
  bytes < 1024 * 1024
    ? `${sayNumber(Math.max(1, Math.ceil(bytes / 1024)))} KB`
    : `${sayDecimal(bytes / 1024 / 1024, 1)} MB`;
