import type { KeyLine, KeyPart } from "../ui/keys";

const ZOOM = { shown: "+  −  0", does: "Zoom in, out, whole picture" };
const MOVE = { shown: "Arrows", does: "Move the focused point or eye level; pan the picture" };
const TURN = { shown: "Arrows", does: "Turn the needle, open the rim" };

/** Keys of the focused stage; they act on it alone, so it answers them itself. */
export const STAGE_KEYS = {
  part: "On the picture",
  scope: "stage",
  lines: [
    { id: "closer", keys: ["+", "="], ...ZOOM },
    { id: "farther", keys: ["-"], ...ZOOM },
    { id: "whole", keys: ["0"], ...ZOOM },
    { id: "left", keys: ["ArrowLeft"], ...MOVE },
    { id: "right", keys: ["ArrowRight"], ...MOVE },
    { id: "up", keys: ["ArrowUp"], ...MOVE },
    { id: "down", keys: ["ArrowDown"], ...MOVE },
    { id: "drop", keys: ["Enter", " "], shown: "Enter", does: "Pick, or drop an end" },
  ],
} as const satisfies KeyPart;

/** Keys of a focused dial. */
export const DIAL_KEYS = {
  part: "On a dial",
  scope: "dial",
  lines: [
    { id: "more", keys: ["ArrowUp", "ArrowRight"], ...TURN },
    { id: "less", keys: ["ArrowDown", "ArrowLeft"], ...TURN },
    { id: "steps", keys: [], shown: "Shift, Alt", does: "Coarse, fine; on the picture too" },
  ],
} as const satisfies KeyPart;

/** The action that a key press on the element itself asks for. */
export function actionOf<Id extends string>(part: { lines: readonly KeyLine<Id>[] }, key: string): Id | null {
  return part.lines.find((line) => line.keys.includes(key))?.id ?? null;
}

/** A step of the hand on the keys: coarse with Shift, fine with Alt. */
export function stepOf(
  event: { shiftKey: boolean; altKey: boolean },
  coarse: number,
  plain: number,
  fine: number,
): number {
  return event.shiftKey ? coarse : event.altKey ? fine : plain;
}
