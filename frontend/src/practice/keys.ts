import type { KeyPart } from "../ui/keys";

const CHOOSE = { shown: "A  B  C  D", does: "Choose by letter" };

export const PRACTICE_KEYS = {
  part: "Practice",
  scope: "practice",
  lines: [
    { id: "on", keys: ["enter"], shown: "Enter", does: "Commit; go on to the next question" },
    { id: "a", keys: ["a"], ...CHOOSE },
    { id: "b", keys: ["b"], ...CHOOSE },
    { id: "c", keys: ["c"], ...CHOOSE },
    { id: "d", keys: ["d"], ...CHOOSE },
    { id: "mirror", keys: ["m"], shown: "M", does: "The instrument at the other hand" },
    { id: "sound", keys: ["s"], shown: "S", does: "Sound on or off" },
    { id: "leave", keys: ["escape"], shown: "Esc", does: "Leave the set; what is answered is kept" },
  ],
} as const satisfies KeyPart;

export const CLOCK_KEYS = {
  part: "Timed drawing",
  scope: "clock",
  lines: [
    { id: "pause", keys: ["p"], shown: "P", does: "Stop the clock to look; go on" },
    { id: "next", keys: ["n"], shown: "N", does: "This phase is done: on to the next" },
    { id: "finish", keys: ["f"], shown: "F", does: "Finish the drawing early" },
  ],
} as const satisfies KeyPart;
