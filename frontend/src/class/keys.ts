import type { KeyPart } from "../ui/keys";
import { t } from "../words";

export const REVIEW_KEYS = {
  part: t("class.keys.reviewPart"),
  scope: "review",
  lines: [
    { id: "next", keys: ["n"], shown: "N", does: t("class.keys.next") },
    { id: "previous", keys: ["p"], shown: "P", does: t("class.keys.previous") },
    { id: "remark", keys: ["r"], shown: "R", does: t("class.keys.remark") },
    { id: "back", keys: ["b"], shown: "B", does: t("class.keys.back") },
    { id: "other", keys: ["v"], shown: "V", does: t("class.keys.other") },
  ],
} as const satisfies KeyPart;

export const PIN_KEYS = {
  part: t("class.keys.pinPart"),
  scope: "pin",
  lines: [
    { id: "left", keys: ["ArrowLeft"], shown: t("keyNames.arrowKeys"), does: t("class.keys.left") },
    { id: "right", keys: ["ArrowRight"], shown: t("keyNames.arrowKeys"), does: t("class.keys.right") },
    { id: "up", keys: ["ArrowUp"], shown: t("keyNames.arrowKeys"), does: t("class.keys.up") },
    { id: "down", keys: ["ArrowDown"], shown: t("keyNames.arrowKeys"), does: t("class.keys.down") },
  ],
} as const satisfies KeyPart;

export const ROOM_KEYS = {
  part: t("class.keys.roomPart"),
  scope: "room",
  lines: [
    { id: "on", keys: ["enter"], shown: t("keyNames.enter"), does: t("class.keys.on") },
    { id: "who", keys: ["w"], shown: "W", does: t("class.keys.who") },
    { id: "another", keys: ["a"], shown: "A", does: t("class.keys.another") },
  ],
} as const satisfies KeyPart;
