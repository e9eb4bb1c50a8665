/** Bytes as text: which encoding they are in, and what had to be guessed. */

export interface Decoded {
  text: string;
  /** What was not certain, a sentence each. */
  notes: string[];
}

/** The upper half of code page 850, as programs of DOS wrote western letters. */
const dosLetters =
  "ÇüéâäàåçêëèïîìÄÅÉæÆôöòûùÿÖÜø£Ø×ƒáíóúñÑªº¿®¬½¼¡«»░▒▓│┤ÁÂÀ©╣║╗╝¢¥┐└┴┬├─┼ãÃ╚╔╩╦╠═╬¤ðÐÊËÈıÍÎÏ┘┌█▄¦Ì▀ÓßÔÒõÕµþÞÚÛÙýÝ¯´\u00ad±‗¾¶§÷¸°¨·¹³²■\u00a0";
function fromDos(bytes: Uint8Array): string {
  const pieces: string[] = [];
  for (let from = 0; from < bytes.length; from += 8192) {
    const codes = Array.from(bytes.subarray(from, from + 8192), (byte) =>
      byte < 128 ? byte : dosLetters.charCodeAt(byte - 128),
    );
    pieces.push(String.fromCharCode(...codes));
  }
  return pieces.join("");
}

const singleByte: { name: string; read(bytes: Uint8Array): string }[] = [
  { name: "Windows-1252", read: (bytes) => new TextDecoder("windows-1252").decode(bytes) },
  { name: "Mac Roman", read: (bytes) => new TextDecoder("macintosh").decode(bytes) },
  { name: "DOS code page 850", read: fromDos },
];

/** How likely a letter beyond ASCII stands between two others: within a word a capital is rare. */
function fits(before: string, letter: string, after: string): number {
  if (!/\p{L}/u.test(letter)) return /[\p{P}\p{Zs}]/u.test(letter) ? 0 : -2;
  if (/\p{Lu}/u.test(letter)) return /\p{Ll}/u.test(before) ? -1 : 1;
  return /\p{L}/u.test(before) || /\p{Ll}/u.test(after) ? 2 : 0;
}

/** How much a text looks like names. */
function likelihood(text: string): number {
  let score = 0;
  for (const { 0: letter, index } of text.matchAll(/\P{ASCII}/gu))
    score += fits(text[index - 1] ?? "", letter, text[index + letter.length] ?? "");
  return score;
}

const zerosAt = (bytes: Uint8Array): [even: number, odd: number] => {
  const zeros: [number, number] = [0, 0];
  const start = bytes.subarray(0, 512);
  for (let at = 0; at < start.length; at++) if (start[at] === 0) (zeros[at % 2] as number)++;
  return zeros;
};

/** UTF-16 by its mark or by its zero bytes; null where it is none. */
function utf16(bytes: Uint8Array): string | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return "utf-16le";
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return "utf-16be";
  const size = Math.min(512, bytes.length);
  const [even, odd] = zerosAt(bytes);
  if (size > 8 && even === 0 && odd * 3 > size) return "utf-16le";
  if (size > 8 && odd === 0 && even * 3 > size) return "utf-16be";
  return null;
}

/**
 * UTF-16 and UTF-8 where they are; UTF-8 with a few bad bytes, whose places are told; otherwise the old code page under
 * which most letters stand where names have them, which is told unless it is that of office programs.
 */
export function decode(bytes: Uint8Array): Decoded {
  const wide = utf16(bytes);
  if (wide) return { text: new TextDecoder(wide).decode(bytes), notes: [] };
  try {
    return { text: new TextDecoder("utf-8", { fatal: true }).decode(bytes), notes: [] };
  } catch {
    return decodeBroken(bytes);
  }
}

function decodeBroken(bytes: Uint8Array): Decoded {
  const text = new TextDecoder("utf-8").decode(bytes);
  const bad = text.match(/\ufffd/g)?.length ?? 0;
  const good = text.match(/[\u0080-\ufffc]/g)?.length ?? 0;
  // Two old letters that stand side by side and happen to be one of UTF-8 are rare.
  if (good > bad) {
    const lines = text.split("\n").flatMap((line, at) => (line.includes("\ufffd") ? [at + 1] : []));
    const where = `${lines.slice(0, 5).join(", ")}${lines.length > 5 ? ` and ${lines.length - 5} more` : ""}`;
    return {
      text,
      notes: [
        `${lines.length === 1 ? "Line" : "Lines"} ${where}: a letter was damaged on its way and stands as \ufffd. Mend it, or ask for the file again.`,
      ],
    };
  }
  const read = singleByte.map(({ name, read }) => ({ name, text: read(bytes) }));
  const scored = read.map((one) => ({ ...one, score: likelihood(one.text) }));
  const [best] = scored.sort((a, b) => b.score - a.score) as [(typeof scored)[number]];
  const isUsual = best.name === "Windows-1252";
  return {
    text: best.text,
    notes: isUsual ? [] : [`Read as ${best.name}, an old encoding. Look at a name or two with accents.`],
  };
}
