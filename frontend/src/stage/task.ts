import type { Point } from "../api/types";

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
  edge: "edge",
  rim: "rim",
  length: "length",
  tilt: "line from corner to corner",
  face: "face",
  part: "part of the face",
  height: "height",
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
  if (task.kind === "pick")
    return `Picture. Point at the ${CALLED[task.thing]} you will judge: arrow keys move the mark, Enter picks.`;
  if (task.kind === "level") return "Picture. Move the line to where eye level lies: Tab to it, then arrow keys.";
  if (task.kind === "seek") return "Picture. Move onto the edge with the arrow keys, then press Enter.";
  if (task.kind === "near") return "Picture. Move to a point on the near arc with the arrow keys, then press Enter.";
  if (task.kind === "arc") return "Picture. Each Enter adds a point on the rim's arc; Escape ends.";
  if (task.kind === "corners")
    return `Picture. Move to corner ${task.laid.length + 1} of the face with the arrow keys, then press Enter.`;
  if (task.kind === "spot") return "Picture. Move to the place on the face with the arrow keys, then press Enter.";
  if (task.kind === "place" && task.thing === "rim")
    return `Picture. Move to ${started ? "the other" : "one"} end of the rim's major axis with the arrow keys, then press Enter.`;
  if (task.kind === "place" && task.thing === "height")
    return `Picture. Move to its ${started ? "top" : "foot"} with the arrow keys, then press Enter.`;
  if (task.kind === "place")
    return started
      ? `Picture. Move to the ${CALLED[task.thing]}'s other end with the arrow keys, then press Enter.`
      : `Picture. Move to one end of the ${CALLED[task.thing]} with the arrow keys, then press Enter.`;
  return "Picture with its sightings. Arrow keys pan, plus and minus zoom.";
}
