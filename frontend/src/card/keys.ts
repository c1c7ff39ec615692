import type { KeyPart } from "../ui/keys";

const UNDO = { shown: "Ctrl Z, Ctrl Shift Z", does: "Undo, redo" };

export const CARD_KEYS = {
  part: "From life",
  scope: "card",
  lines: [
    { id: "next", keys: ["n"], shown: "N", does: "Take the next reading" },
    { id: "gauge", keys: ["g"], shown: "G", does: "Stick or gauge" },
    { id: "hold", keys: ["h"], shown: "H", does: "Hold the gauge" },
    { id: "leave", keys: ["escape"], shown: "Esc", does: "Leave what was begun; let go of the selection" },
    { id: "delete", keys: ["delete"], shown: "Delete", does: "Take the selected reading off the card" },
    { id: "back", keys: ["backspace"], shown: "Delete", does: "Take the selected reading off the card" },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;
