/** Files of other programs; src/core/formats/tests/files/README.md says where each comes from. */
import { readFileSync } from "node:fs";

export const fileOf = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(new URL(`../core/formats/tests/files/${name}`, import.meta.url)));
