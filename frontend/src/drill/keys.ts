import type { KeyPart } from "../ui/keys";

const PLACE = { shown: "Arrows", does: "Move the point, or the level line" };

/** Keys of the focused picture; it answers them itself. */
export const PLACE_KEYS = {
  part: "On a question's picture",
  scope: "practice-picture",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...PLACE },
    { id: "right", keys: ["ArrowRight"], ...PLACE },
    { id: "up", keys: ["ArrowUp"], ...PLACE },
    { id: "down", keys: ["ArrowDown"], ...PLACE },
  ],
} as const satisfies KeyPart;
