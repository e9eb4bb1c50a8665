/** Zip archives, opened with care: what would climb out of its folder, or swell beyond a limit, is refused. */
import { strToU8, type Unzipped, unzipSync, zipSync } from "fflate";
import { refused, type Unreadable } from "./text-table.ts";

/** Bytes that an archive may unpack to. */
export const unpackLimit = 1_000_000_000;

export const isArchive = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 0x03 && bytes[3] === 0x04;

const climbs = (path: string) =>
  /^([/\\]|[A-Za-z]:)/.test(path) || path.split(/[/\\]/).some((part) => part === "..") || path.includes("\u0000");

/**
 * The files of an archive by their path. The sizes are those that the archive states; what a file holds beyond
 * its stated size is not unpacked, so a lying archive costs no more memory than an honest one.
 */
export function openArchive(name: string, bytes: Uint8Array, limit = unpackLimit): Unzipped | Unreadable {
  let total = 0;
  let wrong: string | null = null;
  try {
    const files = unzipSync(bytes, {
      filter(file) {
        total += file.originalSize;
        if (climbs(file.name)) wrong ??= `it holds a path that leaves its folder (${file.name.slice(0, 80)})`;
        if (total > limit) wrong ??= `it would unpack to more than ${sayBytes(limit)}`;
        return wrong === null && !file.name.endsWith("/");
      },
    });
    return wrong
      ? refused(name, `${name} was not opened: ${wrong}. Ask the registrar for a fresh export, or unpack it yourself.`)
      : files;
  } catch {
    return refused(name, `${name} is an archive that is damaged or cut off. Export it again and drop it here.`);
  }
}

const sayBytes = (bytes: number) =>
  bytes >= 1_000_000_000 ? `${bytes / 1_000_000_000} GB` : `${Math.round(bytes / 1000)} kB`;

/** An archive of text files. The time stamp is fixed, so that the same content gives the same bytes. */
export const makeArchive = (files: Record<string, string>): Uint8Array<ArrayBuffer> =>
  zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, strToU8(text)])), {
    mtime: "2000-01-01T00:00:00Z",
  }) as Uint8Array<ArrayBuffer>;

/** Stored without compression: for a library that unpacks by itself, after the sizes were looked at. */
export const repackStored = (files: Unzipped): Uint8Array => zipSync(files, { level: 0 });
