import type { Point } from "../api/types";
import { t } from "../words";

export type Thing = "edge" | "rim" | "length" | "tilt" | "face" | "part" | "height";

/** What is laid by its two ends. */
export type TwoEnded = Exclude<Thing, "face" | "part">;
/** What is judged by eye before it is laid. */
export type Judged = Exclude<Thing, "face">;

/** What the hand is doing on the stage: two ends, a face's corners or one spot are placed; after a rim's major axis its
 * near point; arc points are added to a rim that stands; an edge is sought where the hand points. What is placed `into` a sighting was read from life before;
 * a `proposal` that is judged is accepted with it; eye level is judged as a line that is dragged; a face is laid `before` a part of it.
 */
export type Task =
  | { kind: "look" }
  | { kind: "pick"; thing: Judged; face?: string }
  | { kind: "judge"; thing: Judged; at: Point | null; face?: string; proposal?: string }
  | { kind: "level"; left_y_px: number; right_y_px: number }
  | { kind: "place"; thing: TwoEnded; at: Point | null; judged: number | null; into?: string }
  | { kind: "seek"; thing: "edge"; at: null; judged: number | null; into?: string; missed: string }
  | { kind: "near"; thing: "rim"; at: Point | null; judged: number | null; ends: [Point, Point] }
  | { kind: "arc"; thing: "rim"; at: null; id: string }
  | { kind: "corners"; thing: "face"; at: null; laid: Point[]; before?: "part" }
  | { kind: "spot"; thing: "part"; at: Point | null; judged: number | null; face: string };

/** How sentences call what is being added. */
export const CALLED: Record<Thing, string> = {
  edge: t("stage.task.edge"),
  rim: t("stage.task.rim"),
  length: t("stage.task.length"),
  tilt: t("stage.task.tilt"),
  face: t("stage.task.face"),
  part: t("stage.task.part"),
  height: t("stage.task.height"),
};

/** Whether a tap on the stage sets one single point. */
export function setsPoint(task: Task): boolean {
  return ["pick", "seek", "near", "arc", "corners", "spot"].includes(task.kind);
}

/** Whether points are being laid. */
export function isPlacing(task: Task): boolean {
  return ["place", "seek", "near", "arc", "corners", "spot"].includes(task.kind);
}

/** Whether what was laid before rests, so that it gives nothing away. */
export function isQuiet(task: Task): boolean {
  return task.kind !== "look" && task.kind !== "arc";
}

export function stageLabel(task: Task, started: boolean): string {
  if (task.kind === "pick") return t("stage.task.pick", { thing: CALLED[task.thing] });
  if (task.kind === "level") return t("stage.task.level");
  if (task.kind === "seek") return t("stage.task.seek");
  if (task.kind === "near") return t("stage.task.near");
  if (task.kind === "arc") return t("stage.task.arc");
  if (task.kind === "corners") return t("stage.task.corner", { length: task.laid.length + 1 });
  if (task.kind === "spot") return t("stage.task.spot");
  if (task.kind === "place" && task.thing === "rim") return t(`stage.task.placeRim.${started ? "other" : "one"}`);
  if (task.kind === "place" && task.thing === "height") return t(`stage.task.placeHeight.${started ? "other" : "one"}`);
  if (task.kind === "place")
    return started
      ? t("stage.task.placeOther", { thing: CALLED[task.thing] })
      : t("stage.task.placeOne", { thing: CALLED[task.thing] });
  return t("stage.task.look");
}
