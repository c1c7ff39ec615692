/** The names that screens use for the schema's types, and how sightings are told apart. */
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Sheet = Schemas["SightingSheet"];
export type Sighting = NonNullable<Sheet["sightings"]>[number];
export type Edge = Schemas["EdgeSighting"];
export type Rim = Schemas["RimSighting"];
export type Form = Schemas["Form"];
export type FormKind = Schemas["FormKind"];
export type Family = Schemas["Family"];
export type Plane = Schemas["Plane"];
export type Verdict = Schemas["Verdict"];
export type Report = Schemas["Report"];
export type Finding = Schemas["ReportFinding"];
export type Ellipse = Schemas["ReportEllipse"];
export type Ladder = Schemas["ReportLadder"];
export type VanishingPoint = Schemas["ReportVanishingPoint"];
export type SheetLine = Schemas["SheetLine"];
export type SheetFull = Schemas["SheetFull"];
export type Picture = Schemas["PictureOut"];
export type ProbeAnswer = Schemas["ProbeAnswer"];
export type FanAnswer = Schemas["FanAnswer"];
export type Problem = Schemas["Problem"];
export type Point = [number, number];

export function isRim(sighting: Sighting): sighting is Rim {
  return sighting.kind === "rim";
}

/** An edge laid on the picture. */
export function isEdge(sighting: Sighting): sighting is Edge & { p: Point; q: Point } {
  return sighting.kind === "edge" && !!sighting.p && !!sighting.q;
}

/** Whether a report is of a sheet seen straight up or down. */
export function isStraight(report: Report): boolean {
  return report.view === "straight up" || report.view === "straight down";
}

/** Whether the sheet is seen straight up or down, where eye level is not in the picture. */
export function looksStraight(sheet: Sheet): boolean {
  return sheet.looking === "up" || sheet.looking === "down";
}

/** The vanishing point that a finding's sighting runs to, as the report names it. */
export function pointOf(report: Report, finding: Finding | null | undefined): VanishingPoint | null {
  return (finding?.vanishing_point != null && report.vanishing_points[finding.vanishing_point]) || null;
}
