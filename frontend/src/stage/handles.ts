import { isEdge, isFace, isRim, type Point, type Sighting, twoEnds } from "../api/types";

/** Every point of a sighting that a hand can move, by the name of its handle. */
export function handlesOf(sighting: Sighting): { key: string; at: Point; word: string }[] {
  if (isEdge(sighting))
    return [
      { key: "p", at: sighting.p, word: "First end" },
      { key: "q", at: sighting.q, word: "Second end" },
    ];
  if (isFace(sighting)) return sighting.corners.map((at, k) => ({ key: `corner${k}`, at, word: `Corner ${k + 1}` }));
  if (sighting.kind === "division") return [{ key: "spot", at: sighting.point, word: "Place" }];
  const two = twoEnds(sighting);
  if (two) {
    const [first, second] = sighting.kind === "height" ? ["Foot", "Top"] : ["First end", "Second end"];
    return [
      { key: "p", at: two[0], word: first },
      { key: "q", at: two[1], word: second },
    ] as { key: string; at: Point; word: string }[];
  }
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
