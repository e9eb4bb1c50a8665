/** JSON values gzipped, for columns that hold much and are read seldom. */
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { promisify } from "node:util";
import { createGzip, gunzip } from "node:zlib";
import { jsonPieces } from "./json-pieces.ts";

export const compressJson = (value: unknown): Promise<Buffer> =>
  buffer(Readable.from(jsonPieces(value)).pipe(createGzip({ level: 3 })));
export const expandJson = async <Value>(bytes: Uint8Array): Promise<Value> =>
  JSON.parse((await promisify(gunzip)(bytes)).toString("utf8")) as Value;
