/** Files on their way to the server: photos, with their progress, and sheets. */
import { t } from "../words";
import { ApiError, call, fromProblem } from "./client";
import type { BroughtBack, Picture, Sheet, StandFile } from "./types";

/** Parse a sighting sheet's file on the server. */
export function readSheetFile(file: Blob): Promise<Sheet> {
  return readFile<Sheet>("/api/sheet-files", file);
}

/** Parse a set-up's file on the server. */
export function readStandFile(file: Blob): Promise<StandFile> {
  return readFile<StandFile>("/api/stand-files", file);
}

/** Bring a logbook's readings into the record. */
export function sendLogbook(file: Blob): Promise<BroughtBack> {
  return readFile<BroughtBack>("/api/logbook/readings", file);
}

async function readFile<D>(path: string, file: Blob): Promise<D> {
  let response: Response;
  try {
    response = await fetch(path, {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream" },
      body: file,
    });
  } catch {
    throw new ApiError(0, t("api.files.unreachable"));
  }
  const body: unknown = await response.json();
  if (!response.ok) throw fromProblem(response.status, body);
  return body as D;
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
): Promise<Picture> {
  return uploadTo<Picture>(
    `/api/pictures?name=${encodeURIComponent(name)}&ticket=${ticket}`,
    file,
    onProgress,
    signal,
    ticket,
  );
}

/** Send a photo to any address that takes one; with a `ticket`, told how many are opened before it. */
export function uploadTo<Taken>(
  to: string,
  file: Blob,
  onProgress: (progress: Progress) => void,
  signal: AbortSignal,
  ticket?: string,
): Promise<Taken> {
  if (file.size > LARGEST_PHOTO_MB * 1024 * 1024)
    return Promise.reject(new ApiError(413, t("api.files.tooLarge", { MB: LARGEST_PHOTO_MB })));
  let asking: number | undefined;
  const ask = async () => {
    if (ticket === undefined) return;
    const turn = await call("get", "/api/pictures/turn", { query: { ticket } }).catch(() => null);
    if (asking === undefined) return;
    const ahead = turn?.ahead ?? 0;
    onProgress(ahead > 0 ? { kind: "waiting", ahead } : { kind: "opening" });
    asking = window.setTimeout(() => void ask(), TURN_EVERY_MS);
  };
  const sent = new Promise<Taken>((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", to);
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
    request.onerror = () => reject(new ApiError(0, t("api.files.unreachable")));
    request.onabort = () => reject(new DOMException("cancelled", "AbortError"));
    signal.addEventListener("abort", () => request.abort());
    request.send(file);
  });
  return sent.finally(() => {
    window.clearTimeout(asking);
    asking = undefined;
  });
}
