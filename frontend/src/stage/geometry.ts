/** Screen geometry only: where picture points lie on the stage. No rule of the job lives here. */
import type { Point } from "../api/types";

/** Picture to stage: `screen = picture * k + (x, y)`. */
export interface View {
  k: number;
  x: number;
  y: number;
}

export interface Size {
  width: number;
  height: number;
}

export function fitView(picture: Size, stage: Size, margin = 12): View {
  const k = Math.max(
    0.01,
    Math.min((stage.width - 2 * margin) / picture.width, (stage.height - 2 * margin) / picture.height),
  );
  return {
    k,
    x: (stage.width - picture.width * k) / 2,
    y: (stage.height - picture.height * k) / 2,
  };
}

export function toScreen(view: View, [x, y]: Point): Point {
  return [x * view.k + view.x, y * view.k + view.y];
}

export function toPicture(view: View, [x, y]: Point): Point {
  return [(x - view.x) / view.k, (y - view.y) / view.k];
}

/** Zoom by `factor` so that the stage point `at` stays put. */
export function zoomAt(view: View, at: Point, factor: number, least: number, most: number): View {
  const k = Math.min(most, Math.max(least, view.k * factor));
  const share = k / view.k;
  return {
    k,
    x: at[0] - (at[0] - view.x) * share,
    y: at[1] - (at[1] - view.y) * share,
  };
}

/** Tilt of the line through two points, degrees, -90 < t <= 90, positive rising to the right. */
export function tiltOf(p: Point, q: Point): number {
  const angle = (Math.atan2(-(q[1] - p[1]), q[0] - p[0]) * 180) / Math.PI;
  return wrapTilt(angle);
}

export function wrapTilt(angle: number): number {
  const turned = (90 - angle) % 180;
  return 90 - (turned < 0 ? turned + 180 : turned);
}

export function middleOf(p: Point, q: Point): Point {
  return [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2];
}

export function distance(p: Point, q: Point): number {
  return Math.hypot(q[0] - p[0], q[1] - p[1]);
}

/** The two ends of a line of `tilt` degrees, `half` long on either side of `middle`. */
export function lineAt(middle: Point, tilt: number, half: number): [Point, Point] {
  const a = (tilt * Math.PI) / 180;
  const dx = Math.cos(a) * half;
  const dy = -Math.sin(a) * half;
  return [
    [middle[0] - dx, middle[1] - dy],
    [middle[0] + dx, middle[1] + dy],
  ];
}

/** A line between two points as an SVG draws it. */
export function between([x1, y1]: Point, [x2, y2]: Point) {
  return { x1, y1, x2, y2 };
}

/** The height at `x` of a level that is given at the picture's two sides. */
export function heightAt(left_y: number, right_y: number, width: number, x: number): number {
  return left_y + ((right_y - left_y) * x) / width;
}

/** An ellipse as an SVG draws it: half axes and the turn of its major axis, degrees clockwise. */
export interface Oval {
  centre: Point;
  rx: number;
  ry: number;
  turn: number;
}

/** The ellipse on the major axis between two points that passes through a third. */
export function ovalThrough(a: Point, b: Point, third: Point): Oval {
  const centre = middleOf(a, b);
  const rx = Math.max(distance(a, b) / 2, 1e-6);
  const [ux, uy] = [(b[0] - a[0]) / (2 * rx), (b[1] - a[1]) / (2 * rx)];
  const [dx, dy] = [third[0] - centre[0], third[1] - centre[1]];
  const along = Math.min(0.95, Math.abs(dx * ux + dy * uy) / rx);
  const across = Math.abs(dy * ux - dx * uy);
  return { centre, rx, ry: across / Math.sqrt(1 - along * along), turn: (Math.atan2(uy, ux) * 180) / Math.PI };
}

/** A smooth line through points in order, three at least, as an SVG draws it: at each it runs as the parabola through it and its
 * neighbours does (cubic Hermite by chord lengths).
 */
export function curveThrough(points: Point[]): string {
  const last = points.length - 1;
  const at = (k: number): Point => points[k] ?? [0, 0];
  const long = (k: number) => Math.max(distance(at(k), at(k + 1)), 1e-6);
  const chord = (k: number): Point => mixed(at(k), at(k + 1), -1 / long(k), 1 / long(k));
  const way = (k: number): Point => {
    if (k === 0) return mixed(chord(0), way(1), 2, -1);
    if (k === last) return mixed(chord(last - 1), way(last - 1), 2, -1);
    const whole = long(k - 1) + long(k);
    return mixed(chord(k - 1), chord(k), long(k) / whole, long(k - 1) / whole);
  };
  const parts = points.slice(1).map((q, k) => {
    const third = long(k) / 3;
    return `C${mixed(at(k), way(k), 1, third)} ${mixed(q, way(k + 1), 1, -third)} ${q}`;
  });
  return `M${at(0)}${parts.join("")}`;
}

const mixed = (p: Point, q: Point, a: number, b: number): Point => [a * p[0] + b * q[0], a * p[1] + b * q[1]];

/** A line on from `from` (on the stage) to where its family meets: a picture point, or a tilt at
 * infinity. `far` is a length that leaves the stage.
 */
export function lineOnTo(
  from: Point,
  meets: { x_px: number | null; y_px: number | null; direction_deg: number | null } | null | undefined,
  view: View,
  far: number,
): [Point, Point] | null {
  if (meets?.x_px != null && meets.y_px != null) {
    const target = toScreen(view, [meets.x_px, meets.y_px]);
    const share = Math.min(1, (4 * far) / Math.max(distance(from, target), 1));
    return [from, [from[0] + (target[0] - from[0]) * share, from[1] + (target[1] - from[1]) * share]];
  }
  return meets?.direction_deg != null ? lineAt(from, meets.direction_deg, far) : null;
}

export function roundPoint([x, y]: Point): Point {
  return [Math.round(x * 100) / 100, Math.round(y * 100) / 100];
}
