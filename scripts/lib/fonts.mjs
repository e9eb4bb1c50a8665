/** The weights of a variable font that the interface uses: those it never uses make nearly half of the file. */
import subsetFont from "subset-font";

const weights = { min: 400, max: 700 };
/** Every character that a font of the interface may hold. */
const all = Array.from({ length: 0xd800 }, (_, code) => String.fromCharCode(code)).join("");

export const fontsOfWeightsUsed = () => ({
  name: "fonts-of-weights-used",
  apply: "build",
  async generateBundle(_, bundle) {
    for (const asset of Object.values(bundle))
      if (asset.type === "asset" && /wght-normal\.[^.]*\.woff2$/.test(asset.fileName))
        asset.source = await subsetFont(Buffer.from(asset.source), all, {
          targetFormat: "woff2",
          variationAxes: { wght: weights },
        });
  },
});
