import type { KeyPart } from "../ui/keys";

const STEP = { shown: "[  ]", does: "Previous or next name on the subject" };
const UNDO = { shown: "Ctrl Z, Ctrl Shift Z", does: "Undo, redo" };

export const PAPER_KEYS = {
  part: "Paper",
  scope: "paper",
  lines: [
    { id: "previous", keys: ["["], ...STEP },
    { id: "next", keys: ["]"], ...STEP },
    { id: "accept", keys: ["a"], shown: "A", does: "Accept the proposed line, and on to the next" },
    { id: "other", keys: ["d"], shown: "D", does: "Of a line drawn twice take the lighter one" },
    { id: "all", keys: ["shift+a"], shown: "Shift A", does: "Accept every proposed line" },
    { id: "ghosts", keys: ["o"], shown: "O", does: "Show where each line would run" },
    { id: "over", keys: ["v"], shown: "V", does: "Lay subject and drawing over each other" },
    { id: "leave", keys: ["escape"], shown: "Esc", does: "Leave what was begun; let go of the selection" },
    { id: "delete", keys: ["delete"], shown: "Delete", does: "Take the sighting off the drawing" },
    { id: "back", keys: ["backspace"], shown: "Delete", does: "Take the sighting off the drawing" },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;
