/** Points of an outline, added and taken away. */
import type { Outlined } from "../api/types";

/** A point halfway from point `n` to the next. */
export function withPoint(outline: Outlined, n: number, closed: boolean): Outlined {
  const points = outline.points;
  const last = !closed && n === points.length - 1;
  const [a, b] = last ? [points[n - 1], points[n]] : [points[n], points[(n + 1) % points.length]];
  if (!a || !b) return outline;
  const at = last ? n : n + 1;
  return {
    points: [...points.slice(0, at), [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2], ...points.slice(at)],
    smooth: (outline.smooth ?? []).map((i) => (i >= at ? i + 1 : i)),
  };
}

export function withoutPoint(outline: Outlined, n: number): Outlined {
  return {
    points: outline.points.filter((_, i) => i !== n),
    smooth: (outline.smooth ?? []).filter((i) => i !== n).map((i) => (i > n ? i - 1 : i)),
  };
}
