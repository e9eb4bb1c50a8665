/** Stored files of the course. */
import { z } from "zod";
import { Id } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";

export const storeFile = endpoint("POST", "/files", "staff", {
  says: "Stores the one file of a form, named `file`; answers what an item of kind file holds.",
  answer: z.strictObject({ id: Id, name: z.string(), type: z.string(), size: z.number().int() }),
  sends: "multipart/form-data",
  status: 201,
});
export const readFile = endpoint("GET", "/files/[file]", "coordinator", {
  says: "A stored file.",
  gives: ["application/octet-stream"],
});
