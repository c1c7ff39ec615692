import {
  isAlignment,
  isEdge,
  isFace,
  isLaidRim,
  isLength,
  isRim,
  type Point,
  type Sheet,
  type Sighting,
} from "../api/types";
import type { Task } from "../stage/task";

/** What of a subject can be laid on a drawing of it: everything that has a place on its picture, but heights in metres. */
export function namesOf(subject: Sheet): Sighting[] {
  return (subject.sightings ?? []).filter(
    (s) => isEdge(s) || isLaidRim(s) || isLength(s) || isFace(s) || isAlignment(s) || s.kind === "division",
  );
}

/** What the hand does to lay a named sighting on the drawing. */
export function layingOf(name: Sighting): Task {
  if (isFace(name)) return { kind: "corners", thing: "face", at: null, laid: [] };
  if (name.kind === "division") return { kind: "spot", thing: "part", at: null, judged: null, face: name.face };
  const thing = isRim(name) ? "rim" : isLength(name) ? "length" : name.kind === "alignment" ? "tilt" : "edge";
  return { kind: "place", thing, at: null, judged: null };
}

/** Where a sighting lies. */
export type Place =
  | { p: Point; q: Point }
  | { ends: [Point, Point]; near: Point }
  | { corners: [Point, Point, Point, Point] }
  | { point: Point };

const LAID = ["p", "q", "points", "ends", "near", "corners", "point"];

/** A subject's sighting as it is laid on the drawing: its name and family, the drawing's own place, and nothing that was judged. */
export function laidAs(name: Sighting, place: Place): Sighting {
  const kept = Object.entries(name).filter(([key]) => !LAID.includes(key) && !key.startsWith("judged_"));
  return { ...Object.fromEntries(kept), ...place } as unknown as Sighting;
}

/** The drawing with a sighting laid, in the subject's order. */
export function withLaid(drawing: Sheet, subject: Sheet, laid: Sighting[]): Sheet {
  const have = new Map((drawing.sightings ?? []).map((s) => [s.id, s]));
  for (const s of laid) have.set(s.id, s);
  const order = namesOf(subject).map((s) => s.id);
  const rest = [...have.keys()].filter((id) => !order.includes(id));
  return { ...drawing, sightings: [...order, ...rest].flatMap((id) => have.get(id) ?? []) };
}
