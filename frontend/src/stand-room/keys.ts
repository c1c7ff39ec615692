import type { KeyPart } from "../ui/keys";

const UNDO = { shown: "Ctrl Z, Ctrl Shift Z", does: "Undo, redo" };
const STEP = { shown: "[  ]", does: "Previous or next step of the construction" };
const NEARER = { shown: "+  −", does: "Step nearer or back" };
const WALK = { shown: "Arrows", does: "Walk round, raise or lower the eye" };
const TURN = { shown: ",  .", does: "Turn the chosen thing" };
const PUT = { shown: "Arrows", does: "Move the chosen thing by its footprint" };

export const STAND_KEYS = {
  part: "Stand",
  scope: "stand",
  lines: [
    { id: "lines", keys: ["l"], shown: "L", does: "Lay the exact lines over the set-up" },
    { id: "hidden", keys: ["h"], shown: "H", does: "Show hidden lines and footprints too" },
    { id: "compare", keys: ["c"], shown: "C", does: "Keep this view to compare, or let it go" },
    { id: "beside", keys: ["v"], shown: "V", does: "The kept view as a ghost, or beside this one" },
    { id: "same", keys: ["k"], shown: "K", does: "Keep the same size while stepping nearer or back" },
    { id: "nearer", keys: ["+", "="], ...NEARER },
    { id: "back", keys: ["-"], ...NEARER },
    { id: "turnLeft", keys: [","], ...TURN },
    { id: "turnRight", keys: ["."], ...TURN },
    { id: "elevations", keys: ["e"], shown: "E", does: "Plan and elevations of the chosen thing" },
    { id: "steps", keys: ["s"], shown: "S", does: "How the chosen thing is drawn, step by step" },
    { id: "previous", keys: ["["], ...STEP },
    { id: "next", keys: ["]"], ...STEP },
    { id: "turning", keys: ["t"], shown: "T", does: "The chosen thing turned in the hand" },
    { id: "draw", keys: ["d"], shown: "D", does: "Draw from this: a sheet of the view" },
    { id: "remove", keys: ["delete", "backspace"], shown: "Delete", does: "Take the chosen thing off the stand" },
    { id: "leave", keys: ["escape"], shown: "Esc", does: "Close what is open; choose nothing" },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;

/** Keys of the focused set-up; it answers them itself. */
export const WALK_KEYS = {
  part: "On the set-up",
  scope: "stand-stage",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...WALK },
    { id: "right", keys: ["ArrowRight"], ...WALK },
    { id: "up", keys: ["ArrowUp"], ...WALK },
    { id: "down", keys: ["ArrowDown"], ...WALK },
  ],
} as const satisfies KeyPart;

/** Keys of a focused footprint. */
export const FOOTPRINT_KEYS = {
  part: "On a footprint",
  scope: "stand-footprint",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...PUT },
    { id: "right", keys: ["ArrowRight"], ...PUT },
    { id: "up", keys: ["ArrowUp"], ...PUT },
    { id: "down", keys: ["ArrowDown"], ...PUT },
  ],
} as const satisfies KeyPart;
