import { useCallback } from "react";
import { isEdge, isFace, isRim, type Point, type Sighting } from "../api/types";
import { accept, setJudged, sightingsOf, unitOf } from "../sheet/edits";
import { CALLED, type Judged, type Thing } from "../stage/task";
import { t } from "../words";
import { BEGIN_AT, focusStage, type HandState, placing } from "./useHandState";

/** Begin a sighting, and judge it by eye before it is laid. */
export function useJudging(hand: HandState, judgeFirst: boolean) {
  const { selected, needle, sheetNow, taskNow, change, setSelected, setTask, setNeedle, setSaid } = hand;
  const begin = useCallback(
    (thing: Thing, on?: string) => {
      const faces = sightingsOf(sheetNow.current).filter(isFace);
      const face = (faces.find((f) => f.id === (on ?? selected)) ?? faces[0])?.id;
      setSelected(null);
      if (thing === "part" && !face) {
        setTask({ kind: "corners", thing: "face", at: null, laid: [], before: "part" });
        setSaid(t("sighting.useSighting.partNeedsFace"));
        focusStage();
        return;
      }
      // the unit has nothing to be judged by, and a face is no judgement
      const judges = judgeFirst && thing !== "face" && !(thing === "length" && unitOf(sheetNow.current) === null);
      setTask(judges ? { kind: "pick", thing: thing as Judged, face } : placing(thing, null, null, face));
      setSaid(
        judges
          ? t("sighting.useSighting.pointAt", { thing: CALLED[thing] })
          : t("sighting.useSighting.lay", { thing: CALLED[thing] }),
      );
      focusStage();
    },
    [judgeFirst, selected, sheetNow, setSaid, setTask, setSelected],
  );
  const leave = useCallback(() => setTask({ kind: "look" }), [setTask]);
  /** What was proposed is judged by eye as well, before it is accepted. */
  const judgeProposal = useCallback(
    (id: string) => {
      const proposed = sightingsOf(sheetNow.current).find((s) => s.id === id);
      if (!proposed || (!isEdge(proposed) && !isRim(proposed))) return;
      const thing = proposed.kind;
      setSelected(null);
      setNeedle(BEGIN_AT[thing]);
      setTask({ kind: "judge", thing, at: placeOf(proposed), proposal: id });
      setSaid(t("sighting.useSighting.judgeProposed", { thing: CALLED[thing] }));
    },
    [setTask, setSelected, setSaid, setNeedle, sheetNow],
  );
  const commit = useCallback(() => {
    const now = taskNow.current;
    if (now.kind === "level") {
      const { left_y_px, right_y_px } = now;
      change({ ...sheetNow.current, judged_eye_level: { left_y_px, right_y_px } });
      setTask({ kind: "look" });
      setSaid(t("sighting.useSighting.levelJudged"));
      return;
    }
    if (now.kind !== "judge") return;
    if (now.proposal) {
      const judged = setJudged(sheetNow.current, now.proposal, needle);
      change(accept(judged, [now.proposal]));
      setTask({ kind: "look" });
      setSelected(now.proposal);
      setSaid(t("sighting.useSighting.judgedAndLaid"));
      return;
    }
    setTask(placing(now.thing, now.at, needle, now.face));
    setSaid(t("sighting.useSighting.judgedNowLay"));
    focusStage();
  }, [change, needle, setTask, taskNow, sheetNow, setSelected, setSaid]);
  return { begin, leave, judgeProposal, commit };
}

/** The middle of an edge, or of a rim's points. */
function placeOf(sighting: Sighting): Point | null {
  const at = isEdge(sighting)
    ? [sighting.p, sighting.q]
    : isRim(sighting)
      ? (sighting.ends ?? sighting.points ?? [])
      : [];
  if (at.length === 0) return null;
  const mean = (k: 0 | 1) => at.reduce((sum, one) => sum + (one as Point)[k], 0) / at.length;
  return [mean(0), mean(1)];
}
