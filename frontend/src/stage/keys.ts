import type { Point } from "../api/types";
import type { KeyLine, KeyPart } from "../ui/keys";
import { t } from "../words";

const ZOOM = { shown: "+  −  0", does: t("stage.keys.zoom") };
const MOVE = { shown: t("keyNames.arrows"), does: t("stage.keys.move") };
const TURN = { shown: t("keyNames.arrows"), does: t("stage.keys.turn") };

/** Keys of the focused stage; they act on it alone, so it answers them itself. */
export const STAGE_KEYS = {
  part: t("stage.keys.stagePart"),
  scope: "stage",
  lines: [
    { id: "closer", keys: ["+", "="], ...ZOOM },
    { id: "farther", keys: ["-"], ...ZOOM },
    { id: "whole", keys: ["0"], ...ZOOM },
    { id: "left", keys: ["ArrowLeft"], ...MOVE },
    { id: "right", keys: ["ArrowRight"], ...MOVE },
    { id: "up", keys: ["ArrowUp"], ...MOVE },
    { id: "down", keys: ["ArrowDown"], ...MOVE },
    { id: "drop", keys: ["Enter", " "], shown: t("keyNames.enter"), does: t("stage.keys.drop") },
  ],
} as const satisfies KeyPart;

/** Keys of a focused dial. */
export const DIAL_KEYS = {
  part: t("stage.keys.dialPart"),
  scope: "dial",
  lines: [
    { id: "more", keys: ["ArrowUp", "ArrowRight"], ...TURN },
    { id: "less", keys: ["ArrowDown", "ArrowLeft"], ...TURN },
    { id: "steps", keys: [], shown: t("keyNames.shiftAlt"), does: t("stage.keys.steps") },
  ],
} as const satisfies KeyPart;

/** The action that a key press on the element itself asks for. */
export function actionOf<Id extends string>(part: { lines: readonly KeyLine<Id>[] }, key: string): Id | null {
  return part.lines.find((line) => line.keys.includes(key))?.id ?? null;
}

/** Which way an arrow key goes on the screen, down the second; null for what is none. */
export function wayOf(action: string | null): Point | null {
  return (action && WAYS[action]) || null;
}

const WAYS: Partial<Record<string, Point>> = { left: [-1, 0], right: [1, 0], up: [0, -1], down: [0, 1] };

/** A step of the hand on the keys: coarse with Shift, fine with Alt. */
export function stepOf(
  event: { shiftKey: boolean; altKey: boolean },
  coarse: number,
  plain: number,
  fine: number,
): number {
  return event.shiftKey ? coarse : event.altKey ? fine : plain;
}
