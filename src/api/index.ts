/** Every endpoint, by purpose. */
import * as attempts from "./attempts.ts";
import * as calendars from "./calendars.ts";
import * as course from "./course.ts";
import * as drafting from "./drafting.ts";
import type { Endpoint } from "./endpoint.ts";
import * as files from "./files.ts";
import * as gradebook from "./gradebook.ts";
import * as intake from "./intake.ts";
import * as journal from "./journal.ts";
import * as messages from "./messages.ts";
import * as staff from "./staff.ts";

const isEndpoint = (value: unknown): value is Endpoint =>
  typeof value === "object" && value !== null && "path" in value && "who" in value;
/** The endpoints of each purpose, by name. */
export const endpointsByPurpose: Record<string, Record<string, Endpoint>> = Object.fromEntries(
  Object.entries({ course, drafting, intake, gradebook, attempts, messages, staff, journal, calendars, files }).map(
    ([purpose, exported]) => [
      purpose,
      Object.fromEntries(
        Object.entries(exported as Record<string, unknown>).filter((entry): entry is [string, Endpoint] =>
          isEndpoint(entry[1]),
        ),
      ),
    ],
  ),
);
export const endpoints: Endpoint[] = Object.values(endpointsByPurpose).flatMap((some) => Object.values(some));
