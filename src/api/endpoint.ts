/**
 * What an endpoint of the API is: who may ask it, what it is asked, what it answers. The server answers by these, the
 * workbench asks by them, and the OpenAPI document is made from them.
 */
import type { z } from "zod";

/**
 * `anyone`: also without a session. `account`: any session. `administrator`: who runs the institution. The others need an open enrolment with that role in
 * the course that the address names; a member has any, a reader is a student or a visitor, staff are the coordinator and,
 * within their scope, instructors and support. Source: semantics.md section 9.
 */
export type RequiredRole =
  | "anyone"
  | "account"
  | "administrator"
  | "coordinator"
  | "staff"
  | "student"
  | "reader"
  | "member";
export type Method = "GET" | "POST" | "PATCH" | "DELETE";

export interface Endpoint<
  Query extends z.ZodType | undefined = z.ZodType | undefined,
  Body extends z.ZodType | undefined = z.ZodType | undefined,
  Answer extends z.ZodType | undefined = z.ZodType | undefined,
> {
  method: Method;
  /** Below `/api/courses/[course]`; what stands in brackets is named by whoever asks. */
  path: string;
  who: RequiredRole;
  /** What it does, in a sentence. */
  says: string;
  /** What may stand behind the question mark. */
  query: Query;
  /** What is sent as JSON. */
  body: Body;
  /** What comes back as JSON; undefined where it is a file or a stream of events. */
  answer: Answer;
  /** The media type where something other than JSON is sent. */
  sends?: string;
  /** The media types where something other than JSON comes back. */
  gives?: string[];
  /** Where something is made: 201. */
  status?: 201;
  /** Whether what comes back grows with the course: it is sent as it is written down. */
  isLong?: true;
  /** Whether what is sent may be as large as the rosters, marks and plans of the largest courses. */
  isLarge?: true;
  /** Whether it is answered without the plan, which is read only where somebody's scope asks for it. */
  isLight?: true;
}
interface Described<Query, Body, Answer> {
  says: string;
  query?: Query;
  body?: Body;
  answer?: Answer;
  sends?: string;
  gives?: string[];
  status?: 201;
  isLong?: true;
  isLarge?: true;
  isLight?: true;
}

/** One endpoint: `endpoint("POST", "/draft", "staff", { says, body, answer })`. */
export const endpoint = <
  Query extends z.ZodType | undefined = undefined,
  Body extends z.ZodType | undefined = undefined,
  Answer extends z.ZodType | undefined = undefined,
>(
  method: Method,
  path: string,
  who: RequiredRole,
  { query, body, answer, ...more }: Described<Query, Body, Answer>,
): Endpoint<Query, Body, Answer> => ({
  method,
  path,
  who,
  query: query as Query,
  body: body as Body,
  answer: answer as Answer,
  ...more,
});

/** A part of an endpoint as it is read, and undefined where it has none. */
export type Read<Schema> = Schema extends z.ZodType ? z.output<Schema> : undefined;
/** A part of an endpoint as it is sent. */
export type Sent<Schema> = Schema extends z.ZodType ? z.input<Schema> : undefined;
export type AnswerOf<One extends Endpoint> = Read<One["answer"]>;

/** The pattern of its address, as the table of routes has it. */
export const patternOf = ({ path }: Endpoint): string => `/api/courses/[course]${path}`;

/** Its address in a course: `course` is `/api/courses/ID`, `params` are named in brackets in the path. */
export function addressOf(
  { path }: Endpoint,
  course: string,
  { params = {}, query = {} }: { params?: Record<string, string> | undefined; query?: object | undefined } = {},
): string {
  const filled = path.replace(/\[(\w+)\]/g, (_, name: string) => encodeURIComponent(params[name] ?? ""));
  const asked = new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) => (value == null ? [] : [[name, String(value)]])),
  ).toString();
  return `${course}${filled}${asked && `?${asked}`}`;
}
