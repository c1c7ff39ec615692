import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Sheet = Schemas["SightingSheet"];
export type Sighting = Sheet["sightings"] extends (infer S)[] | undefined ? S : never;
export type Edge = Schemas["EdgeSighting"];
export type Rim = Schemas["RimSighting"];
export type Plane = NonNullable<Rim["plane"]>;
export type Ellipse = Schemas["ReportEllipse"];
export type Ladder = Schemas["ReportLadder"];
export type Form = Schemas["Form"];
export type Family = Edge["family"];
export type Report = Schemas["Report"];
export type Finding = Schemas["ReportFinding"];
export type VanishingPoint = Schemas["ReportVanishingPoint"];
export type RailMark = Schemas["ReportRailMark"];
export type SheetLine = Schemas["SheetLine"];
export type SheetFull = Schemas["SheetFull"];
export type PictureInfo = Schemas["PictureOut"];
export type Problem = Schemas["Problem"];
export type Point = [number, number];

/** How long a silent server is waited for before the work is kept here and sent again. */
const PATIENCE_MS = 15_000;

const api = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => globalThis.fetch(request, { signal: AbortSignal.timeout(PATIENCE_MS) }),
});

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

type Answer = { data?: unknown; error?: unknown; response: Response };

/** The data of an answer, or an `ApiError` in words. The library widens tuples to arrays, so the
 * caller names the schema's own type. */
async function answer<T>(call: Promise<Answer>): Promise<T> {
  let result: Answer;
  try {
    result = await call;
  } catch {
    throw new ApiError(0, "The server cannot be reached.");
  }
  if (!result.response.ok) throw fromProblem(result.response.status, result.error);
  return result.data as T;
}

const at = (sheet_id: string) => ({ params: { path: { sheet_id } } });

export const listSheets = () => answer<Schemas["SheetList"]>(api.GET("/api/sheets"));
export const readSheet = (id: string) => answer<SheetFull>(api.GET("/api/sheets/{sheet_id}", at(id)));
export const makeSheet = (body: Schemas["NewSheet"]) => answer<SheetLine>(api.POST("/api/sheets", { body }));
export const saveSheet = (id: string, body: Schemas["SaveSheet"]) =>
  answer<Schemas["Saved"]>(api.PUT("/api/sheets/{sheet_id}", { ...at(id), body }));
export const deleteSheet = (id: string) => answer<void>(api.DELETE("/api/sheets/{sheet_id}", at(id)));
export const restoreSheet = (id: string) => answer<SheetLine>(api.POST("/api/sheets/{sheet_id}/restore", at(id)));
export const duplicateSheet = (id: string) => answer<SheetLine>(api.POST("/api/sheets/{sheet_id}/duplicate", at(id)));
export const checkSheet = (document: Sheet) =>
  answer<Report>(api.POST("/api/check", { body: { document, tolerance: "freehand" } }));
export const proposeFamily = (body: Schemas["ProposeRequest"]) =>
  answer<Schemas["Proposal"]>(api.POST("/api/propose", { body }));

/** Parse a sighting sheet's file on the server. */
export async function readSheetFile(file: Blob): Promise<Sheet> {
  const call = fetch("/api/sheet-files", {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream" },
    body: file,
  });
  return answer<Sheet>(
    call.then(async (response) => {
      const body: unknown = await response.json();
      return response.ok ? { data: body, response } : { error: body, response };
    }),
  );
}

export function fromProblem(status: number, body: unknown): ApiError {
  const problem = body as Partial<Problem> | undefined;
  return new ApiError(status, problem?.detail ?? `The server answered ${status}.`, problem?.revision);
}

/** How far a photo has come: sent by a share from 0 to 1, waiting behind others, or being opened. */
export type Progress = { kind: "sending"; share: number } | { kind: "waiting"; ahead: number } | { kind: "opening" };

/** The most that the server takes; it breaks off what is larger without a word that a browser would show. */
const LARGEST_PHOTO_MB = 60;
const TURN_EVERY_MS = 700;

/** Send a photo; the server opens one after another, so it may have to wait its turn. */
export function uploadPicture(
  file: Blob,
  name: string,
  ticket: string,
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
): Promise<PictureInfo> {
  if (file.size > LARGEST_PHOTO_MB * 1024 * 1024)
    return Promise.reject(new ApiError(413, `The file is larger than ${LARGEST_PHOTO_MB} MB.`));
  let asking: number | undefined;
  const ask = async () => {
    const turn = await answer<Schemas["Turn"]>(api.GET("/api/pictures/turn", { params: { query: { ticket } } })).catch(
      () => null,
    );
    if (asking === undefined) return;
    const ahead = turn?.ahead ?? 0;
    onProgress(ahead > 0 ? { kind: "waiting", ahead } : { kind: "opening" });
    asking = window.setTimeout(() => void ask(), TURN_EVERY_MS);
  };
  const sent = new Promise<PictureInfo>((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/pictures?name=${encodeURIComponent(name)}&ticket=${ticket}`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (event) =>
      event.lengthComputable && onProgress({ kind: "sending", share: event.loaded / event.total });
    request.upload.onload = () => {
      onProgress({ kind: "opening" });
      asking = window.setTimeout(() => void ask(), TURN_EVERY_MS);
    };
    request.onload = () =>
      request.status < 300 ? resolve(request.response) : reject(fromProblem(request.status, request.response));
    request.onerror = () => reject(new ApiError(0, "The server cannot be reached."));
    request.onabort = () => reject(new DOMException("cancelled", "AbortError"));
    signal.addEventListener("abort", () => request.abort());
    request.send(file);
  });
  return sent.finally(() => {
    window.clearTimeout(asking);
    asking = undefined;
  });
}

export function pictureUrl(id: string, part: "view" | "thumb" | "full"): string {
  return `/api/pictures/${id}/${part}.jpg`;
}

export function isRim(sighting: Sighting): sighting is Rim {
  return sighting.kind === "rim";
}

export function isEdge(sighting: Sighting): sighting is Edge & { p: Point; q: Point } {
  return sighting.kind === "edge" && !!sighting.p && !!sighting.q;
}
