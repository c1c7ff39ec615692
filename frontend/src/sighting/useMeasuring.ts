import { useCallback, useState } from "react";
import { call } from "../api/client";
import type { Construction, PartAlong, Point, Sheet } from "../api/types";
import { useAnswer } from "./useAnswer";

/** A construction wished for on a face; `shown`: how many of its steps. */
export interface ConstructionWish {
  face: string;
  wanted: Construction;
  along: PartAlong;
  count: number;
  place: number;
  shown: number;
}

/** What is drawn over the picture to measure by and is no sighting: a construction on a face, a plumb or level line, a figure on
 * the ground, a form seen from further away, the cone of vision.
 */
export function useMeasuring(sheet: Sheet) {
  const [construction, setConstruction] = useState<ConstructionWish | null>(null);
  const [guide, setGuide] = useState<{ along: "plumb" | "level"; at_px: number } | null>(null);
  const [figure, setFigure] = useState<{ foot: Point; height_m: number } | null>(null);
  const [easing, setEasing] = useState<{ form: string; times: number } | null>(null);
  const [cone, setCone] = useState(false);
  const document = JSON.stringify(sheet);
  const keyOf = (wish: unknown) => (wish === null ? null : JSON.stringify(wish) + document);

  const { shown = 0, ...wish } = construction ?? {};
  const constructed = useAnswer(construction && keyOf(wish), () =>
    call("post", "/api/construct", { body: { document: sheet, ...(wish as Omit<ConstructionWish, "shown">) } }),
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
    construction,
    setConstruction,
    constructed,
    shown,
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
