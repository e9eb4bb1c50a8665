/** The files of other programs beside this one; files/README.md says where each comes from. */
import { readFileSync } from "node:fs";

export const fileOf = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(new URL(`./files/${name}`, import.meta.url)));
