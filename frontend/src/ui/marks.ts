/** How families, planes and verdicts are told apart, and how figures are written, on every screen. */

import type { Family, Plane, Verdict } from "../api/types";
import { t } from "../words";
import { figure, withSign } from "./locale";

/** How a family is told apart: letter and dash first, colour second. */
export interface FamilyMark {
  letter: string;
  name: string;
  dash: string;
  ink: string;
}

export const FAMILIES: Record<Family, FamilyMark> = {
  left: { letter: "L", name: t("ui.marks.left"), dash: "11 5", ink: "var(--ink-left)" },
  right: { letter: "R", name: t("ui.marks.right"), dash: "none", ink: "var(--ink-right)" },
  upright: {
    letter: "U",
    name: t("ui.marks.upright"),
    dash: "1.5 5",
    ink: "var(--ink-upright)",
  },
  depth: {
    letter: "D",
    name: t("ui.marks.depth"),
    dash: "10 4 2 4",
    ink: "var(--ink-depth)",
  },
  across: {
    letter: "A",
    name: t("ui.marks.across"),
    dash: "10 4 2 4",
    ink: "var(--ink-depth)",
  },
  slope: { letter: "S", name: t("ui.marks.slope"), dash: "5 4", ink: "var(--ink-slope)" },
};

/** How a rim's plane is told: a ring and the letter of the family that its axis follows. */
export const PLANES: Record<Plane, { letter: string; name: string; family: Family }> = {
  level: { letter: "◯U", name: t("ui.marks.levelAxisUpright"), family: "upright" },
  left: { letter: "◯L", name: t("ui.marks.axleLeft"), family: "left" },
  right: { letter: "◯R", name: t("ui.marks.axleRight"), family: "right" },
  depth: { letter: "◯D", name: t("ui.marks.axleDepth"), family: "depth" },
  across: { letter: "◯A", name: t("ui.marks.axleAcross"), family: "across" },
};

/** The plane whose axis follows a family; none follows a slope. */
export function planeOf(family: Family): Plane | null {
  if (family === "slope") return null;
  return family === "upright" ? "level" : family;
}

export const VERDICTS: Record<Verdict, { mark: string; word: string }> = {
  holds: { mark: "✓", word: t("ui.marks.holds") },
  off: { mark: "✗", word: t("ui.marks.off") },
  unsure: { mark: "?", word: t("ui.marks.unsure") },
};

export function degreesText(value: number | null | undefined): string {
  if (value === null || value === undefined) return "–";
  return `${withSign(value, 1)}°`;
}

/** Degrees from plumb, in words: a lean reads better than a tilt near 90. */
export function leanText(lean: number): string {
  if (Math.abs(lean) < 0.05) return t("ui.marks.plumb");
  return t(lean > 0 ? "ui.marks.leansRight" : "ui.marks.leansLeft", { degrees: figure(Math.abs(lean), 1) });
}
