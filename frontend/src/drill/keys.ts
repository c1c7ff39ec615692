import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const PLACE = { shown: t("keyNames.arrows"), does: t("drill.keys.move") };

/** Keys of the focused picture; it answers them itself. */
export const PLACE_KEYS = {
  part: t("drill.keys.practicePicturePart"),
  scope: "practice-picture",
  lines: [
    { id: "left", keys: ["ArrowLeft"], ...PLACE },
    { id: "right", keys: ["ArrowRight"], ...PLACE },
    { id: "up", keys: ["ArrowUp"], ...PLACE },
    { id: "down", keys: ["ArrowDown"], ...PLACE },
  ],
} as const satisfies KeyPart;
