/** The exact drawing as paths: what is seen by family, what is hidden, and what is drawn through. Screen geometry only. */
import type { Family, Point, StandDrawing } from "../api/types";

export interface Strokes {
  /** Seen lines, by the family that their edge belongs to; rims and outlines have none. */
  seen: Partial<Record<Family | "rim" | "outline", string>>;
  hidden: string;
  shadows: string;
  construction: string;
}

const ARC_STEPS = 72;

export function strokesOf(drawing: StandDrawing): Strokes {
  const seen: Strokes["seen"] = {};
  let hidden = "";
  const add = (kind: Family | "rim" | "outline", path: string) => {
    seen[kind] = (seen[kind] ?? "") + path;
  };
  for (const edge of drawing.edges) {
    for (const [a, b] of edge.visible) add(edge.family, path([between(edge.p, edge.q, a), between(edge.p, edge.q, b)]));
    for (const [a, b] of rest(edge.visible)) hidden += path([between(edge.p, edge.q, a), between(edge.p, edge.q, b)]);
  }
  for (const line of drawing.outlines)
    for (const [a, b] of line.visible) add("outline", path([between(line.p, line.q, a), between(line.p, line.q, b)]));
  for (const rim of drawing.rims) {
    for (const [a, b] of rim.visible) add("rim", path(arc(rim, a, b)));
    for (const [a, b] of rest(rim.visible)) hidden += path(arc(rim, a, b));
  }
  for (const curve of drawing.curves)
    for (const [a, b] of curve.visible) add("outline", path(along(curve.points, a, b)));
  const shadows = drawing.shadows.flatMap((curve) => curve.visible.map(([a, b]) => path(along(curve.points, a, b))));
  const construction = drawing.construction.flatMap((thing) => [
    ...[...thing.box, ...thing.axes].map((line) => path(line)),
    ...thing.footprint.map((ring) => `${path(ring)}Z`),
  ]);
  return { seen, hidden, shadows: shadows.join(""), construction: construction.join("") };
}

/** The parts from 0 to 1 that `parts` leave out. */
export function rest(parts: [number, number][]): [number, number][] {
  const found: [number, number][] = [];
  let from = 0;
  for (const [a, b] of [...parts].sort((p, q) => p[0] - q[0])) {
    if (a > from) found.push([from, a]);
    from = Math.max(from, b);
  }
  if (from < 1) found.push([from, 1]);
  return found;
}

type Rim = StandDrawing["rims"][number];

/** Points along a part of a rim's turn, from the right end of its major axis, anticlockwise as seen. */
export function arc(rim: Rim, from: number, to: number): Point[] {
  const count = Math.max(2, Math.ceil(ARC_STEPS * (to - from)) + 1);
  const tilt = (rim.major_tilt_deg * Math.PI) / 180;
  const [c, s] = [Math.cos(tilt), Math.sin(tilt)];
  return Array.from({ length: count }, (_, k) => {
    const turn = 2 * Math.PI * (from + ((to - from) * k) / (count - 1));
    const [x, y] = [(rim.major_px / 2) * Math.cos(turn), (rim.minor_px / 2) * Math.sin(turn)];
    return [rim.centre_px[0] + x * c - y * s, rim.centre_px[1] - x * s - y * c];
  });
}

/** What lies between two shares of a line's drawn length. */
export function along(points: Point[], from: number, to: number): Point[] {
  const lengths = points.slice(1).map((q, n) => Math.hypot(q[0] - (points[n]?.[0] ?? 0), q[1] - (points[n]?.[1] ?? 0)));
  const whole = lengths.reduce((sum, one) => sum + one, 0);
  const found: Point[] = [];
  let before = 0;
  lengths.forEach((length, n) => {
    const [p, q] = [points[n], points[n + 1]];
    if (!p || !q || length === 0) return;
    const [a, b] = [(from * whole - before) / length, (to * whole - before) / length];
    before += length;
    if (b < 0 || a > 1) return;
    if (found.length === 0) found.push(between(p, q, Math.max(0, a)));
    found.push(between(p, q, Math.min(1, b)));
  });
  return found;
}

function between(p: Point, q: Point, share: number): Point {
  return [p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1])];
}

export function path(points: Point[]): string {
  return points.map(([x, y], n) => `${n ? "L" : "M"}${x.toFixed(2)} ${y.toFixed(2)}`).join("");
}
