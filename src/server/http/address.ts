/** The application's public address, and what of a request is held against it. */
import { config } from "../config.ts";

/** Whether a request only reads: then nothing is changed by it, whatever becomes of it. */
export const onlyReads = ({ method }: Request): boolean => method === "GET" || method === "HEAD";

/** This machine's own names: whoever asks by them asks for nobody else, and what is sent to them leaves it not. */
export const isLoopback = (host: string): boolean => /^(localhost|127(\.\d{1,3}){3}|\[::1\])(:\d{1,5})?$/i.test(host);

const publicAddress = (): URL | null => {
  const own = config().AMBER_ADDRESS;
  return own ? new URL(own) : null;
};

/** Whether a request asks for this application: by its public address, or by a name of this machine. */
export function isOurHost(request: Request): boolean {
  const host = request.headers.get("host") ?? "";
  return isLoopback(host) || host === publicAddress()?.host;
}

/** Whether a change was asked for by a page of ours. Browsers send Origin with every change. */
export function isOurOrigin(request: Request): boolean {
  const origin = request.headers.get("origin") ?? "";
  if (!URL.canParse(origin)) return false;
  const from = new URL(origin);
  const host = request.headers.get("host") ?? "";
  return isLoopback(host) ? from.host === host : from.origin === publicAddress()?.origin;
}

/** An address of ours for letters; only its path where no public address is set. */
export const addressInLetters = (path: string): string => `${config().AMBER_ADDRESS?.replace(/\/+$/, "") ?? ""}${path}`;

/** Where this application stands, as its readers reach it: what addresses in files and feeds begin with. */
export function originOf(request: Request): string {
  const own = config().AMBER_ADDRESS;
  if (own) return own.replace(/\/+$/, "");
  // Without a public address only this machine asks: any other host was refused.
  const { protocol, host } = new URL(request.url);
  return `${protocol}//${request.headers.get("host") ?? host}`;
}

/** A path of this site that an address asks to be led back to, or the first page: never an address of somebody else's. */
export function pathOfOurs(asked: string): string {
  const base = "http://ours.invalid";
  if (!asked.startsWith("/") || !URL.canParse(asked, base)) return "/";
  const { origin, pathname, search, hash } = new URL(asked, base);
  return origin === base && !pathname.startsWith("//") ? `${pathname}${search}${hash}` : "/";
}

/** Whether an address names something readable: control characters and line separators stand in no path of ours. */
export function isReadablePath(request: Request): boolean {
  try {
    return !/[\p{Cc}\u2028\u2029]/u.test(decodeURIComponent(new URL(request.url).pathname));
  } catch {
    return false;
  }
}
