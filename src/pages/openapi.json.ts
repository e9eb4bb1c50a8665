import type { APIRoute } from "astro";
import { openApi } from "../api/openapi.ts";
import { json } from "../server/http/problem.ts";

/** The API as an OpenAPI document. */
export const GET: APIRoute = () => json(openApi());
