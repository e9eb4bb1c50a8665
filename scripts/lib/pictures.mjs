/** Pictures in the repository: one is written anew where it shows something else, not where a few pixels fell otherwise. */
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import pixelmatch from "pixelmatch";
import { PNG } from "pngjs";

/** Fewer than so many of the pixels are no change of a view. */
const share = 0.001;

/** Whether two pictures, PNG as bytes, show the same: of one size, and alike but for fewer than a thousandth of the pixels. */
export function showsTheSame(before, after) {
  const [one, other] = [PNG.sync.read(before), PNG.sync.read(after)];
  if (one.width !== other.width || one.height !== other.height) return false;
  const differ = pixelmatch(one.data, other.data, null, one.width, one.height, { threshold: 0.1 });
  return differ < one.width * one.height * share;
}

/** Writes a picture if it shows something else than what is there; says whether it did. */
export function writePicture(file, bytes) {
  if (existsSync(file) && showsTheSame(readFileSync(file), bytes)) return false;
  writeFileSync(file, bytes);
  return true;
}
