import { isEdge, isRim, type Point, type Sighting } from "../api/types";

/** Every point of a sighting that a hand can move, by the name of its handle. */
export function handlesOf(sighting: Sighting): { key: string; at: Point; word: string }[] {
  if (isEdge(sighting))
    return [
      { key: "p", at: sighting.p, word: "First end" },
      { key: "q", at: sighting.q, word: "Second end" },
    ];
  if (!isRim(sighting)) return [];
  const ends = (sighting.ends ?? []) as Point[];
  return [
    ...ends.map((at, k) => ({
      key: `end${k}`,
      at,
      word: k === 0 ? "First end of the axis" : "Second end of the axis",
    })),
    ...(sighting.near ? [{ key: "near", at: sighting.near as Point, word: "Near point" }] : []),
    ...(sighting.points ?? []).map((at, k) => ({ key: `at${k}`, at: at as Point, word: `Arc point ${k + 1}` })),
  ];
}
