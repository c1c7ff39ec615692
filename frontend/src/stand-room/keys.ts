import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const UNDO = { shown: t("keyNames.undoRedo"), does: t("stand.keys.undoRedo") };
const STEP = { shown: "[  ]", does: t("stand.keys.step") };
const NEARER = { shown: "+  −", does: t("stand.keys.nearer") };
const WALK = { shown: t("keyNames.arrows"), does: t("stand.keys.walk") };
const TURN = { shown: ",  .", does: t("stand.keys.turn") };
const PUT = { shown: t("keyNames.arrows"), does: t("stand.keys.move") };

export const STAND_KEYS = {
  part: t("stand.keys.standPart"),
  scope: "stand",
  lines: [
    { id: "lines", keys: ["l"], shown: "L", does: t("stand.keys.lines") },
    { id: "hidden", keys: ["h"], shown: "H", does: t("stand.keys.hidden") },
    { id: "compare", keys: ["c"], shown: "C", does: t("stand.keys.compare") },
    { id: "beside", keys: ["v"], shown: "V", does: t("stand.keys.beside") },
    { id: "same", keys: ["k"], shown: "K", does: t("stand.keys.same") },
    { id: "nearer", keys: ["+", "="], ...NEARER },
    { id: "back", keys: ["-"], ...NEARER },
    { id: "turnLeft", keys: [","], ...TURN },
    { id: "turnRight", keys: ["."], ...TURN },
    { id: "elevations", keys: ["e"], shown: "E", does: t("stand.keys.elevations") },
    { id: "steps", keys: ["s"], shown: "S", does: t("stand.keys.steps") },
    { id: "previous", keys: ["["], ...STEP },
    { id: "next", keys: ["]"], ...STEP },
    { id: "turning", keys: ["t"], shown: "T", does: t("stand.keys.turning") },
    { id: "draw", keys: ["d"], shown: "D", does: t("stand.keys.draw") },
    { id: "remove", keys: ["delete", "backspace"], shown: t("keyNames.delete"), does: t("stand.keys.remove") },
    { id: "leave", keys: ["escape"], shown: t("keyNames.esc"), does: t("stand.keys.leave") },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;

/** Keys of the focused set-up; it answers them itself. */
export const WALK_KEYS = {
  part: t("stand.keys.standStagePart"),
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
  part: t("stand.keys.standFootprintPart"),
  scope: "stand-footprint",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...PUT },
    { id: "right", keys: ["ArrowRight"], ...PUT },
    { id: "up", keys: ["ArrowUp"], ...PUT },
    { id: "down", keys: ["ArrowDown"], ...PUT },
  ],
} as const satisfies KeyPart;
