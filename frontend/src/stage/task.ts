import type { Point } from "../api/types";

export type Thing = "edge" | "rim";

/** What the hand is doing on the stage: an edge's two ends, or a rim's major axis, are placed; then
 * a rim's near point; arc points are added to a rim that stands.
 */
export type Task =
  | { kind: "look" }
  | { kind: "pick"; thing: Thing }
  | { kind: "judge"; thing: Thing; at: Point | null }
  | { kind: "place"; thing: Thing; at: Point | null; judged: number | null }
  | { kind: "near"; thing: "rim"; at: Point | null; judged: number | null; ends: [Point, Point] }
  | { kind: "arc"; thing: "rim"; at: null; id: string };

/** Whether a tap on the stage sets one single point. */
export function setsPoint(task: Task): boolean {
  return task.kind === "pick" || task.kind === "near" || task.kind === "arc";
}

/** Whether points are being laid. */
export function isPlacing(task: Task): boolean {
  return task.kind === "place" || task.kind === "near" || task.kind === "arc";
}

/** Whether what was laid before rests, so that it gives nothing away. */
export function isQuiet(task: Task): boolean {
  return task.kind !== "look" && task.kind !== "arc";
}

export function stageLabel(task: Task, started: boolean): string {
  if (task.kind === "pick")
    return `Picture. Point at the ${task.thing} you will judge: arrow keys move the mark, Enter picks.`;
  if (task.kind === "near") return "Picture. Move to a point on the near arc with the arrow keys, then press Enter.";
  if (task.kind === "arc") return "Picture. Each Enter adds a point on the rim's arc; Escape ends.";
  if (task.kind === "place" && task.thing === "rim")
    return `Picture. Move to ${started ? "the other" : "one"} end of the rim's major axis with the arrow keys, then press Enter.`;
  if (task.kind === "place")
    return started
      ? "Picture. Move to the edge's other end with the arrow keys, then press Enter."
      : "Picture. Move to one end of the edge with the arrow keys, then press Enter.";
  return "Picture with its sightings. Arrow keys pan, plus and minus zoom.";
}
