import type { KeyLine, KeyPart } from "../ui/keys";

/** Keys of the focused stage; they act on it alone, so it answers them itself. */
export const STAGE_KEYS = {
  part: "On the picture",
  scope: "stage",
  lines: [
    { id: "closer", keys: ["+", "="], shown: "+  −  0", does: "Zoom in, out, whole picture" },
    { id: "farther", keys: ["-"], shown: "+  −  0", does: "Zoom in, out, whole picture" },
    { id: "whole", keys: ["0"], shown: "+  −  0", does: "Zoom in, out, whole picture" },
    { id: "left", keys: ["ArrowLeft"], shown: "Arrows", does: "Move the focused point or eye level; pan the picture" },
    {
      id: "right",
      keys: ["ArrowRight"],
      shown: "Arrows",
      does: "Move the focused point or eye level; pan the picture",
    },
    { id: "up", keys: ["ArrowUp"], shown: "Arrows", does: "Move the focused point or eye level; pan the picture" },
    { id: "down", keys: ["ArrowDown"], shown: "Arrows", does: "Move the focused point or eye level; pan the picture" },
    { id: "drop", keys: ["Enter", " "], shown: "Enter", does: "Pick, or drop an end" },
  ],
} as const satisfies KeyPart;

/** Keys of a focused dial. */
export const DIAL_KEYS = {
  part: "On a dial",
  scope: "dial",
  lines: [
    { id: "more", keys: ["ArrowUp", "ArrowRight"], shown: "Arrows", does: "Turn the needle, open the rim" },
    { id: "less", keys: ["ArrowDown", "ArrowLeft"], shown: "Arrows", does: "Turn the needle, open the rim" },
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
