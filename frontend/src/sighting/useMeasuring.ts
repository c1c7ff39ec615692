import { useCallback, useState } from "react";
import { call } from "../api/client";
import type { Construction, PartAlong, Point, Sheet } from "../api/types";
import { useAnswer } from "./useAnswer";

/** What is constructed, on whichever face. */
export interface ConstructionWish {
  wanted: Construction;
  along: PartAlong;
  count: number;
  place: number;
}

const ALL_STEPS = Number.POSITIVE_INFINITY;

/** What is drawn over the picture to measure by and is no sighting: a construction on a face, a plumb or level line, a figure on
 * the ground, a form seen from further away, the cone of vision.
 */
export function useMeasuring(sheet: Sheet) {
  const [wish, setWish] = useState<ConstructionWish>({ wanted: "centre", along: "across", count: 3, place: 0.25 });
  const [construction, setConstruction] = useState<{ face: string; shown: number } | null>(null);
  const [guide, setGuide] = useState<{ along: "plumb" | "level"; at_px: number } | null>(null);
  const [figure, setFigure] = useState<{ foot: Point; height_m: number } | null>(null);
  const [easing, setEasing] = useState<{ form: string; times: number } | null>(null);
  const [cone, setCone] = useState(false);
  const document = JSON.stringify(sheet);
  const keyOf = (question: unknown) => (question === null ? null : JSON.stringify(question) + document);

  const face = construction?.face ?? "";
  const constructed = useAnswer(construction && keyOf({ face, ...wish }), () =>
    call("post", "/api/construct", { body: { document: sheet, face, ...wish } }),
  );
  const held = useAnswer(keyOf(guide), () =>
    call("post", "/api/guide", { body: { document: sheet, along: guide?.along ?? "plumb", at_px: guide?.at_px ?? 0 } }),
  );
  const stood = useAnswer(keyOf(figure), () =>
    call("post", "/api/figure", {
      body: { document: sheet, foot: figure?.foot ?? [0, 0], height_m: figure?.height_m ?? 1.7 },
    }),
  );
  const eased = useAnswer(keyOf(easing), () =>
    call("post", "/api/ease", { body: { document: sheet, form: easing?.form ?? "", times: easing?.times ?? 1 } }),
  );
  /** Construct on this face, or put the construction away. */
  const turnConstruction = useCallback(
    (on: string) => setConstruction((old) => (old?.face === on ? null : { face: on, shown: ALL_STEPS })),
    [],
  );
  const showSteps = useCallback((shown: number) => setConstruction((old) => old && { ...old, shown }), []);
  const changeWish = useCallback(
    (change: Partial<ConstructionWish>) => {
      setWish((old) => ({ ...old, ...change }));
      showSteps(ALL_STEPS);
    },
    [showSteps],
  );
  const { width_px = 0, height_px = 0 } = sheet.picture ?? {};
  const turnGuide = useCallback(
    (along: "plumb" | "level") =>
      setGuide((old) =>
        old?.along === along ? null : { along, at_px: (along === "plumb" ? width_px : height_px) / 2 },
      ),
    [width_px, height_px],
  );
  const turnFigure = useCallback(
    () => setFigure((old) => (old ? null : { foot: [width_px / 2, height_px * 0.75], height_m: 1.7 })),
    [width_px, height_px],
  );
  const turnCone = useCallback(() => setCone((old) => !old), []);
  return {
    wish,
    changeWish,
    construction,
    turnConstruction,
    showSteps,
    constructed,
    guide,
    setGuide,
    turnGuide,
    held,
    figure,
    setFigure,
    turnFigure,
    stood,
    easing,
    setEasing,
    eased,
    cone,
    turnCone,
  };
}
