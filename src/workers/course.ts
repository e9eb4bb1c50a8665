/**
 * What is asked of the course away from the page: its audit, and the review of the draft. Each question has a worker of its
 * own, so that none waits for another; they share this script, which is fetched once.
 */
import "./page-locale.ts";
import { expose } from "comlink";
import { auditFunctions } from "./audit.ts";
import { reviewFunctions } from "./review.ts";
import { createTold } from "./told.ts";

const told = createTold();
const functions = { hear: told.hear, ...auditFunctions(told), ...reviewFunctions(told) };
export type CourseFunctions = typeof functions;
expose(functions);
