import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const STEP = { shown: "[  ]", does: t("paper.keys.names") };
const UNDO = { shown: t("keyNames.undoRedo"), does: t("paper.keys.undoRedo") };

export const PAPER_KEYS = {
  part: t("paper.keys.paperPart"),
  scope: "paper",
  lines: [
    { id: "previous", keys: ["["], ...STEP },
    { id: "next", keys: ["]"], ...STEP },
    { id: "accept", keys: ["a"], shown: "A", does: t("paper.keys.accept") },
    { id: "other", keys: ["d"], shown: "D", does: t("paper.keys.other") },
    { id: "all", keys: ["shift+a"], shown: t("keyNames.shiftA"), does: t("paper.keys.all") },
    { id: "ghosts", keys: ["o"], shown: "O", does: t("paper.keys.ghosts") },
    { id: "over", keys: ["v"], shown: "V", does: t("paper.keys.over") },
    { id: "leave", keys: ["escape"], shown: t("keyNames.esc"), does: t("paper.keys.leave") },
    { id: "delete", keys: ["delete"], shown: t("keyNames.delete"), does: t("paper.keys.delete") },
    { id: "back", keys: ["backspace"], shown: t("keyNames.delete"), does: t("paper.keys.back") },
    { id: "undo", keys: ["ctrl+z", "meta+z"], ...UNDO },
    { id: "redo", keys: ["ctrl+shift+z", "meta+shift+z"], ...UNDO },
  ],
} as const satisfies KeyPart;
