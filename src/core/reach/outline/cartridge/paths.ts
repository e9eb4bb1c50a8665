/** Where a name in an archive leads: percent signs, bases, and the word that stands for the archive's own files. */

const fileBase = /^\$IMS-CC-FILEBASE\$\/?/i;
const isElsewhere = /^([a-z][a-z0-9+.-]*:|\/\/|#)/i;

/** A name with its percent signs undone; as it is where they are only percent signs ("50%.pdf"). */
export function unescaped(name: string): string {
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
}

/** A path without "." and "..", which never leads out of the archive. */
function plainPath(path: string): string {
  const parts: string[] = [];
  for (const part of path.split("/"))
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  return parts.join("/");
}

/**
 * The path of an archive's file that a name leads to, seen from a folder; null where it leads elsewhere or to nothing.
 * `files`: by path. What stands behind ? or # is no part of a file's name, unless there is such a file.
 */
export function pathOf(name: string, folder: string, files: Record<string, Uint8Array>, root = ""): string | null {
  const own = fileBase.test(name);
  const bare = name.replace(fileBase, "");
  if (!own && isElsewhere.test(bare)) return null;
  // The word for the archive's files means its root; some put them into a folder called web_resources.
  const folders = own ? [root, `${root}web_resources/`] : [folder];
  for (const from of folders)
    for (const one of [unescaped(bare), bare, unescaped(bare.replace(/[?#].*$/, ""))]) {
      const path = plainPath(from + one);
      if (path in files) return path;
    }
  return null;
}

export const folderOf = (path: string): string => path.slice(0, path.lastIndexOf("/") + 1);
