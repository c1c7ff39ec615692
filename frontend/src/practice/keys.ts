import type { KeyPart } from "../ui/keys";
import { t } from "../words";

const CHOOSE = { shown: "A  B  C  D", does: t("practice.keys.letters") };

export const PRACTICE_KEYS = {
  part: t("practice.keys.practicePart"),
  scope: "practice",
  lines: [
    { id: "on", keys: ["enter"], shown: t("keyNames.enter"), does: t("practice.keys.on") },
    { id: "a", keys: ["a"], ...CHOOSE },
    { id: "b", keys: ["b"], ...CHOOSE },
    { id: "c", keys: ["c"], ...CHOOSE },
    { id: "d", keys: ["d"], ...CHOOSE },
    { id: "mirror", keys: ["m"], shown: "M", does: t("practice.keys.mirror") },
    { id: "sound", keys: ["s"], shown: "S", does: t("practice.keys.sound") },
    { id: "leave", keys: ["escape"], shown: t("keyNames.esc"), does: t("practice.keys.leave") },
  ],
} as const satisfies KeyPart;

export const CLOCK_KEYS = {
  part: t("practice.keys.clockPart"),
  scope: "clock",
  lines: [
    { id: "pause", keys: ["p"], shown: "P", does: t("practice.keys.pause") },
    { id: "next", keys: ["n"], shown: "N", does: t("practice.keys.next") },
    { id: "finish", keys: ["f"], shown: "F", does: t("practice.keys.finish") },
  ],
} as const satisfies KeyPart;
