import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const STEP = { shown: "[  ]", does: t("plan.keys.step") };
const UNDO = { shown: t("keyNames.undoRedo"), does: t("plan.keys.undoRedo") };
const PLACE = { shown: t("keyNames.arrows"), does: t("plan.keys.move") };

export const PLAN_KEYS = {
  part: t("plan.keys.planPart"),
  scope: "plan",
  lines: [
    { id: "previous", keys: ["["], ...STEP },
    { id: "next", keys: ["]"], ...STEP },
    { id: "fans", keys: ["f"], shown: "F", does: t("plan.keys.fans") },
    { id: "scales", keys: ["e"], shown: "E", does: t("plan.keys.scales") },
    { id: "turn", keys: ["r"], shown: "R", does: t("plan.keys.turn") },
    { id: "leave", keys: ["escape"], shown: t("keyNames.esc"), does: t("plan.keys.leave") },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;

/** Keys of the drawing's box on the sheet. */
export const BOX_KEYS = {
  part: t("plan.keys.planBoxPart"),
  scope: "plan-box",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...PLACE },
    { id: "right", keys: ["ArrowRight"], ...PLACE },
    { id: "up", keys: ["ArrowUp"], ...PLACE },
    { id: "down", keys: ["ArrowDown"], ...PLACE },
  ],
} as const satisfies KeyPart;
