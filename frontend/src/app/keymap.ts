/** The one registry of keys: each room's own list, in the order of the `?` sheet. Handlers act on the same lists. */

import { CARD_KEYS } from "../card/keys";
import { PIN_KEYS, REVIEW_KEYS, ROOM_KEYS } from "../class/keys";
import { PLACE_KEYS } from "../drill/keys";
import { PAPER_KEYS } from "../paper/keys";
import { BOX_KEYS, PLAN_KEYS } from "../plan/keys";
import { CLOCK_KEYS, PRACTICE_KEYS } from "../practice/keys";
import { FACE_KEYS } from "../sheet/FaceSwitch";
import { SIGHTING_KEYS } from "../sighting/keys";
import { DIAL_KEYS, STAGE_KEYS } from "../stage/keys";
import { FOOTPRINT_KEYS, STAND_KEYS, WALK_KEYS } from "../stand-room/keys";
import type { KeyPart } from "../ui/keys";
import { t } from "../words";

export const ALWAYS_KEYS = {
  part: t("app.keymap.alwaysPart"),
  scope: "always",
  lines: [{ id: "keys", keys: ["shift+?", "?"], shown: "?", does: t("app.keymap.keys") }],
} as const satisfies KeyPart;

export const KEYMAP: readonly KeyPart[] = [
  ...SIGHTING_KEYS,
  CARD_KEYS,
  PLAN_KEYS,
  BOX_KEYS,
  PAPER_KEYS,
  FACE_KEYS,
  STAND_KEYS,
  WALK_KEYS,
  FOOTPRINT_KEYS,
  PRACTICE_KEYS,
  PLACE_KEYS,
  CLOCK_KEYS,
  REVIEW_KEYS,
  PIN_KEYS,
  ROOM_KEYS,
  STAGE_KEYS,
  DIAL_KEYS,
  ALWAYS_KEYS,
];
