/** The one way to the server: an answer's type follows from the path that is asked. */

import createClient from "openapi-fetch";
import { t } from "../words";
import type { paths } from "./schema";
import type { Problem } from "./types";

/** How long a silent server is waited for before the work is kept here and sent again. */
const PATIENCE_MS = 15_000;
/** The same where a photo is worked on, which waits behind others. */
export const OF_PHOTOS_MS = 120_000;

const api = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => patiently(request, PATIENCE_MS),
});

function patiently(request: Request, ms: number): Promise<Response> {
  return globalThis.fetch(request, { signal: AbortSignal.timeout(ms) });
}

/** An answer that says what went wrong; `status` 0 means that the server could not be reached. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly revision?: number | null,
  ) {
    super(message);
  }
}

let queued = 0;

/** How long a check would wait behind others, as the server said last; 0 where none waits. */
export function queueMs(): number {
  return queued;
}

/** The `queue` of a `Server-Timing` header (W3C), in milliseconds. */
function queueIn(header: string | null): number | null {
  const found = header?.match(/(?:^|,)\s*queue\s*;\s*dur=([\d.]+)/);
  return found ? Number(found[1]) : null;
}

const signedOut = new Set<() => void>();

/** Be told when the server answers that nobody is signed in; answers how to be told no more. */
export function onSignedOut(told: () => void): () => void {
  signedOut.add(told);
  return () => void signedOut.delete(told);
}

type Method = "get" | "post" | "put" | "delete";
type PathsWith<M extends Method> = { [P in keyof paths]: paths[P] extends Record<M, object> ? P : never }[keyof paths];
type Operation<M extends Method, P extends keyof paths> = paths[P][M];
type Json<C> = C extends { content: { "application/json": infer Body } } ? Body : never;
/** What the server answers to a path; the schema's own type, tuples and all. */
export type Answer<M extends Method, P extends keyof paths> =
  Operation<M, P> extends { responses: { 200: infer Good } } ? Json<Good> : undefined;
type Part<T, K extends string> = T extends { [key in K]: infer Value } ? Value : undefined;
type Given<K extends string, Value> = Value extends undefined ? { [key in K]?: undefined } : { [key in K]: Value };
/** What has to be sent along: the values in the path, the query, and a JSON body. */
export type Sent<M extends Method, P extends keyof paths> = Given<
  "path",
  Part<Part<Operation<M, P>, "parameters">, "path">
> &
  Given<"query", Part<Part<Operation<M, P>, "parameters">, "query">> &
  Given<
    "body",
    Json<Part<Operation<M, P>, "requestBody">> extends never ? undefined : Json<Part<Operation<M, P>, "requestBody">>
  >;
type Arguments<T> =
  Record<string, never> extends { [K in keyof T as undefined extends T[K] ? never : K]: T[K] }
    ? [(T & Waits)?]
    : [T & Waits];
/** `patience_ms`: how long an answer is waited for, where it is known to take longer than most. `again`: a server that is
 * busy is asked again; for questions that change nothing. `outlives`: it is sent though the page is closed at that moment. */
interface Waits {
  patience_ms?: number;
  again?: boolean;
  outlives?: boolean;
}

const BUSY = 503;
const AGAIN_MS = 1000;
const MOST_TIMES = 5;

/** Ask the server. Throws `ApiError` with the server's own words, or with status 0 where none came. */
export async function call<M extends Method, P extends PathsWith<M>>(
  method: M,
  path: P,
  ...sent: Arguments<Sent<M, P>>
): Promise<Answer<M, P>> {
  // one plain type: all bodies of all paths together are more than the compiler will write out
  const [given = {}] = sent as [({ path?: object; query?: object; body?: unknown } & Waits)?];
  const { patience_ms, again, outlives } = given;
  const init = {
    params: { path: given.path, query: given.query },
    body: given.body,
    // no clock is set to it: it would end with the page
    ...(outlives ? { keepalive: true, fetch: (request: Request) => globalThis.fetch(request) } : {}),
    ...(patience_ms ? { fetch: (request: Request) => patiently(request, patience_ms) } : {}),
  };
  // the library's own types widen tuples to arrays: the schema's types are put on by `Answer`
  const ask = api.request as unknown as (
    method: string,
    path: string,
    init: unknown,
  ) => Promise<{ data?: unknown; error?: unknown; response: Response }>;
  let result: Awaited<ReturnType<typeof ask>>;
  try {
    result = await ask(method, path as string, init);
    for (let times = 1; again && result.response.status === BUSY && times < MOST_TIMES; times++) {
      await new Promise((resolve) => window.setTimeout(resolve, AGAIN_MS));
      result = await ask(method, path as string, init);
    }
  } catch {
    throw new ApiError(0, t("api.client.unreachable"));
  }
  queued = queueIn(result.response.headers.get("Server-Timing")) ?? queued;
  if (result.response.status === 401) for (const told of signedOut) told();
  if (!result.response.ok) throw fromProblem(result.response.status, result.error);
  return result.data as Answer<M, P>;
}

export function fromProblem(status: number, body: unknown): ApiError {
  const problem = body as Partial<Problem> | undefined;
  return new ApiError(status, problem?.detail ?? t("api.client.answeredStatus", { status }), problem?.revision);
}

export function pictureUrl(id: string, part: "view" | "thumb" | "full"): string {
  return `/api/pictures/${id}/${part}.jpg`;
}

export function exportUrl(sheet: string, kind: string): string {
  return `/api/sheets/${sheet}/export/${kind}`;
}

/** The plan to print; `printer`: the paper over which a larger sheet is tiled. */
export function planUrl(
  sheet: string,
  kind: "pdf" | "svg" | "json",
  { printer, fans }: { printer?: string; fans?: boolean },
): string {
  const asked = new URLSearchParams({ ...(printer ? { printer } : {}), ...(fans ? { fans: "1" } : {}) }).toString();
  return `/api/sheets/${sheet}/plan.${kind}${asked && `?${asked}`}`;
}

export function critiqueUrl(drawing: string, kind: "pdf" | "png" | "json"): string {
  return `/api/drawings/${drawing}/critique.${kind}`;
}

export function standUrl(stand: string, kind: "stand.json" | "drawing.json" | "drawing.svg"): string {
  return `/api/stands/${stand}/export/${kind}`;
}

/** The exact drawing of a set-up, to be shown; `revision` makes the address new when it has changed. */
export function standSeenUrl(stand: string, revision: number): string {
  return `/api/stands/${stand}/seen.svg?revision=${revision}`;
}

export function standStepsUrl(stand: string, thing: string, kind: "pdf" | "svg", step?: number): string {
  return `/api/stands/${stand}/steps/${encodeURIComponent(thing)}.${kind}${step ? `?step=${step}` : ""}`;
}

export function turningUrl(
  stand: string,
  thing: string,
  asked: { poses: number; about: string; seen_from_deg: number },
): string {
  const query = new URLSearchParams(Object.entries(asked).map(([key, value]) => [key, String(value)]));
  return `/api/stands/${stand}/turning/${encodeURIComponent(thing)}.svg?${query.toString()}`;
}

export function takeAwayUrl(classId: string, person: string): string {
  return `/api/classes/${classId}/members/${person}/everything.zip`;
}

export function classFileUrl(classId: string, file: "marks.csv" | "readings.csv" | "evening.pdf"): string {
  return `/api/classes/${classId}/${file}`;
}

/** What a worksheet would hold, to be shown. */
export function worksheetPreviewUrl(asked: {
  kind: string;
  grade: string;
  paper: string;
  seed: number;
  answer: boolean;
  sheet_id: string | null;
}): string {
  const query = new URLSearchParams(
    Object.entries(asked).flatMap(([key, value]) => (value === null ? [] : [[key, String(value)]])),
  );
  return `/api/worksheets/preview.svg?${query.toString()}`;
}

export function worksheetsUrl(set: string, part: "sheets" | "answers" | "all"): string {
  return `/api/worksheets/${set}/${part}.pdf`;
}

export function logbookUrl(kind: "csv" | "pdf"): string {
  return `/api/logbook/logbook.${kind}`;
}
