import type { Family } from "../api/types";
import type { KeyPart } from "../ui/keys";

const LRU = { shown: "L  R  U", does: "left, right, upright (a level rim)" };
const DXS = { shown: "D  X  S", does: "depth, across, slope" };
const SLIP = { shown: "[  ]", does: "Previous or next slip" };
const MOVE = { shown: "Alt ↑ ↓", does: "Move the slip up or down" };
const UNDO = { shown: "Ctrl Z, Ctrl Shift Z", does: "Undo, redo" };

export const ADDING_KEYS = {
  part: "Sighting",
  scope: "sighting",
  lines: [
    { id: "edge", keys: ["a"], shown: "A", does: "Add an edge" },
    { id: "find", keys: ["shift+a"], shown: "Shift A", does: "Find the edge that is pointed at, once it is judged" },
    { id: "photo", keys: ["shift+f"], shown: "Shift F", does: "Look into the picture for forms" },
    { id: "rim", keys: ["c"], shown: "C", does: "Add a rim" },
    { id: "points", keys: ["p"], shown: "P", does: "Add points along the selected rim; Backspace takes one back" },
    { id: "rims", keys: ["o"], shown: "O", does: "Show all rims that this form should have" },
    { id: "probe", keys: ["t"], shown: "T, held", does: "Probe: what must run under the hand (or a long press)" },
    { id: "leave", keys: ["escape"], shown: "Esc", does: "Leave what was begun; let go of the selection" },
    { id: "truth", keys: ["z"], shown: "Z", does: "On a sheet of the stand: show what is true, once judged" },
    { id: "judging", keys: ["j"], shown: "J", does: "Judge first on or off" },
    { id: "form", keys: ["n"], shown: "N", does: "New form" },
    { id: "level", keys: ["e"], shown: "E", does: "Set eye level, or let the sightings find it" },
    { id: "judgeLevel", keys: ["shift+e"], shown: "Shift E", does: "Judge eye level by eye" },
    { id: "delete", keys: ["delete"], shown: "Delete", does: "Delete the selected sighting" },
    { id: "back", keys: ["backspace"], shown: "Delete", does: "Delete the selected sighting" },
  ],
} as const satisfies KeyPart;

export const MEASURING_KEYS = {
  part: "Measuring",
  scope: "measuring",
  lines: [
    { id: "length", keys: ["m"], shown: "M", does: "Measure a length; the first is the unit" },
    { id: "tilt", keys: ["k"], shown: "K", does: "Tilt from corner to corner" },
    { id: "plumb", keys: ["i"], shown: "I  H", does: "Hold a plumb line, a level line" },
    { id: "level", keys: ["h"], shown: "I  H", does: "Hold a plumb line, a level line" },
    { id: "face", keys: ["f"], shown: "F", does: "Lay a face by its four corners" },
    { id: "part", keys: ["q"], shown: "Q", does: "A part of the face: a door's edge, a sill" },
    { id: "construct", keys: ["v"], shown: "V", does: "Construct on the selected face: middle, bays" },
    { id: "height", keys: ["y"], shown: "Y", does: "A height on the ground" },
    { id: "figure", keys: ["g"], shown: "G", does: "Stand a figure on the ground" },
    { id: "cone", keys: ["w"], shown: "W", does: "Show the 60° cone of vision" },
  ],
} as const satisfies KeyPart;

export const FAMILY_KEYS = {
  part: "Family of the selected edge, or of a rim's axis",
  scope: "family",
  lines: [
    { id: "left", keys: ["l"], ...LRU },
    { id: "right", keys: ["r"], ...LRU },
    { id: "upright", keys: ["u"], ...LRU },
    { id: "depth", keys: ["d"], ...DXS },
    { id: "across", keys: ["x"], ...DXS },
    { id: "slope", keys: ["s"], ...DXS },
  ],
} as const satisfies KeyPart<Family>;

export const MOVING_KEYS = {
  part: "Moving about",
  scope: "moving",
  lines: [
    { id: "previous", keys: ["["], ...SLIP },
    { id: "next", keys: ["]"], ...SLIP },
    { id: "earlier", keys: ["alt+arrowup"], ...MOVE },
    { id: "later", keys: ["alt+arrowdown"], ...MOVE },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;

export const SIGHTING_KEYS: readonly KeyPart[] = [ADDING_KEYS, MEASURING_KEYS, FAMILY_KEYS, MOVING_KEYS];
