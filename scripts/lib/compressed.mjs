/** Files of a build, compressed once beside what they are, so that no request waits for it. */
import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const texts = /\.(js|css|svg|json|html|txt|wasm)$/;
/** Smaller ones fit in one packet as they are. */
const least = 1200;

/** Writes NAME.br and NAME.gz beside each text of a folder and of those beneath it. */
export function compressFolder(folder) {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) compressFolder(path);
    else if (texts.test(name) && statSync(path).size >= least) compressFile(path);
  }
}

function compressFile(path) {
  const bytes = readFileSync(path);
  const brotli = { [constants.BROTLI_PARAM_QUALITY]: 10, [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length };
  writeFileSync(`${path}.br`, brotliCompressSync(bytes, { params: brotli }));
  writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
}
