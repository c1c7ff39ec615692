import { useCallback, useRef } from "react";
import type { Sheet } from "../api/types";
import type { LevelSide } from "../stage/hands";
import { t } from "../words";
import type { HandState } from "./useHandState";

/** Eye level: judged by a line across the picture, set by hand, or found from the sightings. */
export function useLevel(hand: HandState) {
  const { sheetNow, taskNow, report, change, show, setSelected, setTask, setSaid } = hand;
  const levelFrom = useRef<Sheet["eye_level"]>(null);
  const judgeLevel = useCallback(() => {
    const middle = (sheetNow.current.picture?.height_px ?? 0) / 2;
    setSelected(null);
    setTask({ kind: "level", left_y_px: middle, right_y_px: middle });
    setSaid(t("sighting.useSighting.judgeLevel"));
  }, [sheetNow, setSelected, setSaid, setTask]);
  const moveLevel = useCallback(
    (side: LevelSide, dy: number, done: boolean) => {
      if (taskNow.current.kind === "level") {
        const start = levelFrom.current ?? taskNow.current;
        levelFrom.current = done ? null : start;
        setTask({ kind: "level", ...moved(start, side, dy) });
        return;
      }
      const from = levelFrom.current ?? sheetNow.current.eye_level;
      if (!from) return;
      levelFrom.current = done ? null : from;
      (done ? change : show)({ ...sheetNow.current, eye_level: moved(from, side, dy) });
    },
    [change, show, taskNow, sheetNow, setTask],
  );
  const turnLevel = useCallback(() => {
    const now = sheetNow.current;
    if (now.eye_level) {
      change({ ...now, eye_level: null });
      setSaid(t("sighting.useSighting.levelFound"));
    } else if (now.picture) {
      const { left_y_px, right_y_px } = report.eye_level;
      const middle = now.picture.height_px / 2;
      change({
        ...now,
        eye_level: { left_y_px: tenths(left_y_px ?? middle), right_y_px: tenths(right_y_px ?? middle) },
      });
      setSaid(t("sighting.useSighting.levelSet"));
    }
  }, [change, report.eye_level, sheetNow, setSaid]);
  return { judgeLevel, moveLevel, turnLevel };
}

function tenths(value: number): number {
  return Math.round(value * 10) / 10;
}

/** Both ends of eye level, or one of them, moved by `dy` pixels of the picture. */
function moved(from: NonNullable<Sheet["eye_level"]>, side: LevelSide, dy: number) {
  return {
    left_y_px: tenths(from.left_y_px + (side === "right" ? 0 : dy)),
    right_y_px: tenths(from.right_y_px + (side === "left" ? 0 : dy)),
  };
}
