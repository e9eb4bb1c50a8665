import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { PNG } from "pngjs";
import { expect, test } from "vitest";
import { showsTheSame, writePicture } from "./pictures.mjs";

/** A grey picture with so many black pixels. */
function picture(black, width = 200) {
  const png = new PNG({ width, height: 100 });
  png.data.fill(200);
  for (let at = 0; at < black; at++) png.data.fill(0, at * 4, at * 4 + 3);
  return PNG.sync.write(png);
}

test("a thousandth of the pixels is a change, fewer are none, another size always is", () => {
  expect(showsTheSame(picture(0), picture(0))).toBe(true);
  expect(showsTheSame(picture(0), picture(19))).toBe(true);
  expect(showsTheSame(picture(0), picture(20))).toBe(false);
  expect(showsTheSame(picture(0), picture(0, 201))).toBe(false);
});

test("a picture is written where there is none and where it shows something else; the old file stays otherwise", () => {
  const folder = mkdtempSync(join(tmpdir(), "amber-pictures-"));
  const file = join(folder, "view.png");
  try {
    expect([picture(0), picture(5), picture(500)].map((bytes) => writePicture(file, bytes))).toEqual([
      true,
      false,
      true,
    ]);
    expect(readFileSync(file).equals(picture(500))).toBe(true);
  } finally {
    rmSync(folder, { recursive: true });
  }
});
