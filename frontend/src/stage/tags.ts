import type { Point } from "../api/types";

/** A rim's tag is `wide`. */
export const TAG = { width: 30, wide: 40, height: 18 };
/** Where along its line a tag may sit, the middle first. */
const ALONG = [0.5, 0.36, 0.64, 0.24, 0.76];
/** Tag heights by which one that finds no room on its line moves beside it. */
const ASIDE = Array.from({ length: 20 }, (_, n) => (n % 2 ? -1 : 1) * (1.5 + 1.1 * Math.floor(n / 2)));
/** All keep the room that two of them side by side need. */
const ROOM = { width: 37, height: 20 };

const STEPS = Array.from({ length: 33 }, (_, n) => n / 32);

type Size = { width: number; height: number };

/** A line from `p` to `q`, or a single point that is both. */
export interface Tagged {
  id: string;
  p: Point;
  q: Point;
}

export interface TagPlace {
  at: Point;
  /** Where on the line a leader runs to, where the tag had to leave it. */
  leader: Point | null;
}

/** A place for the tag of every line, the first in the list choosing first: on what shows of it on a stage of `size`, or
 * beside that with a leader. */
export function placeTags(lines: Tagged[], size: Size): Map<string, TagPlace> {
  const taken: Point[] = [];
  const places = new Map<string, TagPlace>();
  for (const { id, p, q } of lines) {
    const place = firstFree(...shown(p, q, size), (at) => isFree(at, taken, size));
    taken.push(place.at);
    places.set(id, place);
  }
  return places;
}

/** The ends of what shows of a line; a line that does not show keeps its own. */
function shown(p: Point, q: Point, size: Size): [Point, Point] {
  if (p === q) return [p, q];
  const seen = STEPS.map((t): Point => [p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]).filter((at) =>
    fits(at, size),
  );
  return [seen[0] ?? p, seen[seen.length - 1] ?? q];
}

function fits([x, y]: Point, size: Size): boolean {
  return (
    x >= TAG.wide / 2 && x <= size.width - TAG.wide / 2 && y >= TAG.height / 2 && y <= size.height - TAG.height / 2
  );
}

function firstFree(p: Point, q: Point, isOpen: (at: Point) => boolean): TagPlace {
  const on = (share: number): Point => [p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1])];
  for (const share of ALONG) {
    const at = on(share);
    if (isOpen(at)) return { at, leader: null };
  }
  const length = Math.hypot(q[0] - p[0], q[1] - p[1]) || 1;
  const across: Point = p === q ? [0, 1] : [-(q[1] - p[1]) / length, (q[0] - p[0]) / length];
  for (const step of ASIDE)
    for (const share of ALONG) {
      const foot = on(share);
      const reach = step * (TAG.height + (TAG.width - TAG.height) * Math.abs(across[0]));
      const at: Point = [foot[0] + reach * across[0], foot[1] + reach * across[1]];
      if (isOpen(at)) return { at, leader: foot };
    }
  return { at: on(0.5), leader: null };
}

function isFree(at: Point, taken: Point[], size: Size): boolean {
  return (
    fits(at, size) &&
    taken.every((other) => Math.abs(at[0] - other[0]) >= ROOM.width || Math.abs(at[1] - other[1]) >= ROOM.height)
  );
}
