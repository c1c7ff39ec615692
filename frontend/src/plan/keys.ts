import type { KeyPart } from "../ui/keys";

const STEP = { shown: "[  ]", does: "Previous or next step of the lay-in" };
const UNDO = { shown: "Ctrl Z, Ctrl Shift Z", does: "Undo, redo" };
const PLACE = { shown: "Arrows", does: "Move the drawing on the sheet" };

export const PLAN_KEYS = {
  part: "Plan",
  scope: "plan",
  lines: [
    { id: "previous", keys: ["["], ...STEP },
    { id: "next", keys: ["]"], ...STEP },
    { id: "fans", keys: ["f"], shown: "F", does: "Show each family’s fan" },
    { id: "scales", keys: ["e"], shown: "E", does: "Show the edge scales" },
    { id: "turn", keys: ["r"], shown: "R", does: "Turn the sheet: portrait, landscape" },
    { id: "leave", keys: ["escape"], shown: "Esc", does: "All steps again" },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;

/** Keys of the drawing's box on the sheet. */
export const BOX_KEYS = {
  part: "On the plan",
  scope: "plan-box",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...PLACE },
    { id: "right", keys: ["ArrowRight"], ...PLACE },
    { id: "up", keys: ["ArrowUp"], ...PLACE },
    { id: "down", keys: ["ArrowDown"], ...PLACE },
  ],
} as const satisfies KeyPart;
