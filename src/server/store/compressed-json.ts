/** JSON values gzipped, for columns that hold much and are read seldom. */
import { promisify } from "node:util";
import { gunzip, gzip } from "node:zlib";

export const compressJson = (value: unknown): Promise<Buffer> => promisify(gzip)(JSON.stringify(value), { level: 3 });
export const expandJson = async <Value>(bytes: Uint8Array): Promise<Value> =>
  JSON.parse((await promisify(gunzip)(bytes)).toString("utf8")) as Value;
