import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const UNDO = { shown: t("keyNames.undoRedo"), does: t("card.keys.undoRedo") };

export const CARD_KEYS = {
  part: t("card.keys.cardPart"),
  scope: "card",
  lines: [
    { id: "next", keys: ["n"], shown: "N", does: t("card.keys.next") },
    { id: "gauge", keys: ["g"], shown: "G", does: t("card.keys.gauge") },
    { id: "hold", keys: ["h"], shown: "H", does: t("card.keys.hold") },
    { id: "leave", keys: ["escape"], shown: t("keyNames.esc"), does: t("card.keys.leave") },
    { id: "delete", keys: ["delete"], shown: t("keyNames.delete"), does: t("card.keys.delete") },
    { id: "back", keys: ["backspace"], shown: t("keyNames.delete"), does: t("card.keys.back") },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;
