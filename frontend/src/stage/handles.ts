import { isEdge, isFace, isRim, type Point, type Sighting, twoEnds } from "../api/types";
import { t } from "../words";

/** Every point of a sighting that a hand can move, by the name of its handle. */
export function handlesOf(sighting: Sighting): { key: string; at: Point; word: string }[] {
  if (isEdge(sighting))
    return [
      { key: "p", at: sighting.p, word: t("stage.handles.firstEnd") },
      { key: "q", at: sighting.q, word: t("stage.handles.secondEnd") },
    ];
  if (isFace(sighting))
    return sighting.corners.map((at, k) => ({ key: `corner${k}`, at, word: t("stage.handles.corner", { k: k + 1 }) }));
  if (sighting.kind === "division") return [{ key: "spot", at: sighting.point, word: t("stage.handles.place") }];
  const two = twoEnds(sighting);
  if (two) {
    const [first, second] =
      sighting.kind === "height"
        ? [t("stage.handles.foot"), t("stage.handles.top")]
        : [t("stage.handles.firstEnd"), t("stage.handles.secondEnd")];
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
      word: k === 0 ? t("stage.handles.firstEndAxis") : t("stage.handles.secondEndAxis"),
    })),
    ...(sighting.near ? [{ key: "near", at: sighting.near as Point, word: t("stage.handles.nearPoint") }] : []),
    ...(sighting.points ?? []).map((at, k) => ({
      key: `at${k}`,
      at: at as Point,
      word: t("stage.handles.arcPoint", { k: k + 1 }),
    })),
  ];
}
