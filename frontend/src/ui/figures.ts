/** How a skill's figures are written. */

import type { SkillUnit } from "../api/types";
import { t } from "../words";
import { withSign } from "./locale";

const UNITS: Record<SkillUnit, { behind: string; places: number }> = {
  degrees: { behind: "°", places: 1 },
  "per cent": { behind: " %", places: 1 },
  "near uprights": { behind: t("ui.figures.nu"), places: 2 },
};

export const UNIT_WORDS: Record<SkillUnit, string> = {
  degrees: t("ui.figures.degrees"),
  "per cent": "per cent",
  "near uprights": t("ui.figures.nearUprightsNu"),
};

/** A figure with its unit; `signed` keeps a plus in front. */
export function amount(value: number, unit: SkillUnit, signed = false): string {
  const { behind, places } = UNITS[unit];
  return `${withSign(value, places, signed)}${behind}`;
}
