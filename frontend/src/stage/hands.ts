import type { Point, Sheet } from "../api/types";
import { handlesOf } from "./handles";
import type { Task } from "./task";

export type LevelSide = "left" | "right" | "both";

/** What the hand holds while it drags. */
export type Grip =
  | { kind: "pan" }
  | { kind: "handle"; id: string; key: string; from: Point }
  | { kind: "level"; side: LevelSide }
  | { kind: "figure"; from: Point }
  | { kind: "guide"; from: number }
  | { kind: "lay" };

/** Where a figure stands, and where a plumb or level line is held, if there are any. */
export interface Standing {
  figure: Point | null;
  guide: { along: "plumb" | "level"; at_px: number } | null;
}

/** What a hand can do on the stage. */
export interface Deeds {
  onSelect: (id: string | null) => void;
  /** One single point was set, for a task that asks for one. */
  onPoint: (at: Point) => void;
  /** Two ends were laid. */
  onPlace: (p: Point, q: Point) => void;
  onMoveHandle: (id: string, key: string, to: Point, done: boolean) => void;
  /** The hand is over the picture, and where. */
  onHover: (at: Point) => void;
  /** A long press asks what runs where it is held; null when it ends. */
  onProbe: (at: Point | null) => void;
  onMoveFigure: (to: Point) => void;
  onMoveGuide: (at_px: number) => void;
  onMoveLevel: (side: LevelSide, dy: number, done: boolean) => void;
}

/** What a hand that goes down on `target` takes hold of. */
export function gripAt(target: Element, sheet: Sheet, task: Task, standing: Standing): Grip {
  if (task.kind === "place") return { kind: "lay" };
  if (standing.figure && target.closest("[data-figure]")) return { kind: "figure", from: standing.figure };
  if (standing.guide && target.closest("[data-guide]")) return { kind: "guide", from: standing.guide.at_px };
  const handle = target.closest("[data-handle]");
  const grip = handle && handleAt(handle, sheet);
  if (grip) return { kind: "handle", ...grip };
  const level = target.closest("[data-level]");
  return level ? { kind: "level", side: level.getAttribute("data-level") as LevelSide } : { kind: "pan" };
}

/** The sighting's point that a handle stands for, and where it lies. */
export function handleAt(handle: Element, sheet: Sheet): { id: string; key: string; from: Point } | null {
  const id = handle.getAttribute("data-edge") ?? "";
  const key = handle.getAttribute("data-handle") ?? "";
  const sighting = sheet.sightings?.find((s) => s.id === id);
  const found = sighting && handlesOf(sighting).find((h) => h.key === key);
  return found ? { id, key, from: found.at } : null;
}
