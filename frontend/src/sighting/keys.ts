import type { Family } from "../api/types";
import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const LRU = { shown: "L  R  U", does: t("sighting.keys.familiesOfTwoPoint") };
const DXS = { shown: "D  X  S", does: t("sighting.keys.familiesOfOnePoint") };
const SLIP = { shown: "[  ]", does: t("sighting.keys.slips") };
const MOVE = { shown: t("keyNames.alt"), does: t("sighting.keys.moveSlip") };
const UNDO = { shown: t("keyNames.undoRedo"), does: t("sighting.keys.undoRedo") };

export const ADDING_KEYS = {
  part: t("sighting.keys.sightingPart"),
  scope: "sighting",
  lines: [
    { id: "edge", keys: ["a"], shown: "A", does: t("sighting.keys.edge") },
    { id: "find", keys: ["shift+a"], shown: t("keyNames.shiftA"), does: t("sighting.keys.find") },
    { id: "photo", keys: ["shift+f"], shown: t("keyNames.shiftF"), does: t("sighting.keys.photo") },
    { id: "rim", keys: ["c"], shown: "C", does: t("sighting.keys.rim") },
    { id: "points", keys: ["p"], shown: "P", does: t("sighting.keys.points") },
    { id: "rims", keys: ["o"], shown: "O", does: t("sighting.keys.rims") },
    { id: "probe", keys: ["t"], shown: t("keyNames.tHeld"), does: t("sighting.keys.probe") },
    { id: "leave", keys: ["escape"], shown: t("keyNames.esc"), does: t("sighting.keys.leave") },
    { id: "truth", keys: ["z"], shown: "Z", does: t("sighting.keys.truth") },
    { id: "judging", keys: ["j"], shown: "J", does: t("sighting.keys.judging") },
    { id: "form", keys: ["n"], shown: "N", does: t("sighting.keys.form") },
    { id: "level", keys: ["e"], shown: "E", does: t("sighting.keys.level") },
    { id: "judgeLevel", keys: ["shift+e"], shown: t("keyNames.shiftE"), does: t("sighting.keys.judgeLevel") },
    { id: "delete", keys: ["delete"], shown: t("keyNames.delete"), does: t("sighting.keys.delete") },
    { id: "back", keys: ["backspace"], shown: t("keyNames.delete"), does: t("sighting.keys.back") },
  ],
} as const satisfies KeyPart;

export const MEASURING_KEYS = {
  part: t("sighting.keys.measuringPart"),
  scope: "measuring",
  lines: [
    { id: "length", keys: ["m"], shown: "M", does: t("sighting.keys.length") },
    { id: "tilt", keys: ["k"], shown: "K", does: t("sighting.keys.tilt") },
    { id: "plumb", keys: ["i"], shown: "I  H", does: t("sighting.keys.plumb") },
    { id: "level", keys: ["h"], shown: "I  H", does: t("sighting.keys.levelLine") },
    { id: "face", keys: ["f"], shown: "F", does: t("sighting.keys.face") },
    { id: "part", keys: ["q"], shown: "Q", does: t("sighting.keys.part") },
    { id: "construct", keys: ["v"], shown: "V", does: t("sighting.keys.construct") },
    { id: "height", keys: ["y"], shown: "Y", does: t("sighting.keys.height") },
    { id: "figure", keys: ["g"], shown: "G", does: t("sighting.keys.figure") },
    { id: "cone", keys: ["w"], shown: "W", does: t("sighting.keys.cone") },
  ],
} as const satisfies KeyPart;

export const FAMILY_KEYS = {
  part: t("sighting.keys.familyPart"),
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
  part: t("sighting.keys.movingPart"),
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
