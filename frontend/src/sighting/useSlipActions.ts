import { useMemo } from "react";
import type { Along, Family, PartAlong, Plane } from "../api/types";
import {
  accept,
  remove,
  rename,
  reorder,
  setAlong,
  setFamily,
  setFormOf,
  setHidden,
  setJudged,
  setKnown,
  setPlane,
  setSlope,
  setUnit,
  strikeOut,
} from "../sheet/edits";
import { t } from "../words";
import type { SlipActions } from "./Slip";
import { focusStage, type HandState } from "./useHandState";

/** Every change that a slip can make to its sighting. */
export function useSlipActions(hand: HandState, judgeProposal: (id: string) => void): SlipActions {
  const { sheetNow, change, setSelected, setAsked, setTask, setSaid } = hand;
  return useMemo(
    () => ({
      ...plainChanges({ sheetNow, change }),
      select: setSelected,
      family: (id: string, family: Family) => {
        setAsked(null);
        change(setFamily(sheetNow.current, id, family));
      },
      addPoints: (id: string) => {
        setSelected(id);
        setTask({ kind: "arc", thing: "rim", at: null, id });
        setSaid(t("sighting.useSighting.arcPoints"));
        focusStage();
      },
      layOn: (id: string) => {
        setSelected(null);
        setTask({ kind: "place", thing: "edge", at: null, judged: null, into: id });
        setSaid(t("sighting.useSighting.layReadEdge"));
        focusStage();
      },
      accept: (ids: string[]) => {
        change(accept(sheetNow.current, ids));
        setSaid(t("sighting.useSighting.accepted", { length: ids.length }));
      },
      judge: judgeProposal,
      strikeOut: (ids: string[]) => {
        change(strikeOut(sheetNow.current, ids));
        setSelected(null);
        setSaid(t("sighting.useSighting.struckOut", { length: ids.length }));
      },
      remove: (id: string) => {
        change(remove(sheetNow.current, id));
        setSelected(null);
        setSaid(t("sighting.useSighting.deleted"));
      },
    }),
    [change, judgeProposal, setSaid, sheetNow, setTask, setSelected, setAsked],
  );
}

/** Changes that nothing else follows. */
function plainChanges({ sheetNow, change }: Pick<HandState, "sheetNow" | "change">) {
  return {
    plane: (id: string, plane: Plane) => change(setPlane(sheetNow.current, id, plane)),
    judged: (id: string, value: number | null) => change(setJudged(sheetNow.current, id, value)),
    slope: (id: string, slope: string) => change(setSlope(sheetNow.current, id, slope)),
    along: (id: string, along: Along | PartAlong) => change(setAlong(sheetNow.current, id, along)),
    unit: (id: string) => change(setUnit(sheetNow.current, id)),
    known: (id: string, metres: number | null) => change(setKnown(sheetNow.current, id, metres)),
    hidden: (id: string, tip: "p" | "q", cut: boolean) => change(setHidden(sheetNow.current, id, tip, cut)),
    form: (id: string, to: string) => change(setFormOf(sheetNow.current, id, to)),
    rename: (id: string, name: string) => change(rename(sheetNow.current, id, name)),
    reorder: (id: string, by: -1 | 1) => change(reorder(sheetNow.current, id, by)),
  };
}
