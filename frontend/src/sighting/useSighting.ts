import { useCallback } from "react";
import { isRim, type Sheet } from "../api/types";
import { addForm, dropArcPoint, sightingsOf } from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import { t } from "../words";
import { type HandState, useHandState } from "./useHandState";
import { useJudging } from "./useJudging";
import { useLayingOn } from "./useLayingOn";
import { useLevel } from "./useLevel";
import { useSlipActions } from "./useSlipActions";

/** Judge, sight, check: what is begun, what is chosen, and every change that the screen can make. */
export function useSighting(open: OpenSheet, judgeFirst: boolean, picture: string, seen: Sheet["found"]) {
  const hand = useHandState(open);
  const judging = useJudging(hand, judgeFirst);
  const laying = useLayingOn(hand, { judgeFirst, picture, seen, begin: judging.begin });
  const level = useLevel(hand);
  const actions = useSlipActions(hand, judging.judgeProposal);
  const arc = useArcPoints(hand, open.sheet);
  const { change, sheetNow, setForm, setSaid } = hand;
  const newForm = useCallback(() => {
    const added = addForm(sheetNow.current);
    change(added.sheet);
    setForm(added.id);
    setSaid(t("sighting.useSighting.newForm"));
  }, [change, sheetNow, setForm, setSaid]);
  const { selected, task, needle, form, said, asked, reach, setSelected, setNeedle } = hand;
  const state = { selected, task, needle, form, said, asked, reach, sheetNow };
  const set = { setSelected, setNeedle, setForm, setSaid };
  return { ...state, ...set, ...judging, ...laying, ...level, ...arc, actions, newForm };
}

/** The points along a rim's arc, the last of which can be taken back while more than it needs are there. */
function useArcPoints({ task, report, sheetNow, change }: HandState, sheet: Sheet) {
  const inHand = task.kind === "arc" ? task.id : null;
  const rim = sightingsOf(sheet).find((s) => s.id === inHand);
  const least = report.findings.find((f) => f.sighting === inHand)?.rim?.least_points ?? Number.POSITIVE_INFINITY;
  const canUndoPoint = !!rim && isRim(rim) && (rim.points?.length ?? 0) > least;
  const undoPoint = useCallback(() => {
    if (inHand && canUndoPoint) change(dropArcPoint(sheetNow.current, inHand));
  }, [canUndoPoint, change, inHand, sheetNow]);
  return { canUndoPoint, undoPoint };
}
