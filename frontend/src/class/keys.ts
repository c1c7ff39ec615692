import type { KeyPart } from "../ui/keys";

export const REVIEW_KEYS = {
  part: "A piece that was handed in",
  scope: "review",
  lines: [
    { id: "next", keys: ["n"], shown: "N", does: "The next student’s piece" },
    { id: "previous", keys: ["p"], shown: "P", does: "The student’s before" },
    { id: "remark", keys: ["r"], shown: "R", does: "A remark: on the chosen line, or at a place" },
    { id: "back", keys: ["b"], shown: "B", does: "Give the piece back" },
    { id: "other", keys: ["v"], shown: "V", does: "Drawing or subject" },
  ],
} as const satisfies KeyPart;

export const PIN_KEYS = {
  part: "On a remark’s pin",
  scope: "pin",
  lines: [
    { id: "left", keys: ["ArrowLeft"], shown: "Arrow keys", does: "Move the pin" },
    { id: "right", keys: ["ArrowRight"], shown: "Arrow keys", does: "Move the pin" },
    { id: "up", keys: ["ArrowUp"], shown: "Arrow keys", does: "Move the pin" },
    { id: "down", keys: ["ArrowDown"], shown: "Arrow keys", does: "Move the pin" },
  ],
} as const satisfies KeyPart;

export const ROOM_KEYS = {
  part: "A question for the room",
  scope: "room",
  lines: [
    { id: "on", keys: ["enter"], shown: "Enter", does: "Stop the question; then tell the truth" },
    { id: "who", keys: ["w"], shown: "W", does: "Show who, or how many only" },
    { id: "another", keys: ["a"], shown: "A", does: "Ask another question" },
  ],
} as const satisfies KeyPart;
