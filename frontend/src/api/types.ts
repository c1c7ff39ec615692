/** The names that screens use for the schema's types, and how sightings are told apart. */
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Me = Schemas["Me"];
export type Schools = Schemas["Schools"];
export type MyClass = Schemas["MyClass"];
export type ClassFull = Schemas["ClassFull"];
export type ClassMember = Schemas["ClassMember"];
export type AssignmentIn = Schemas["AssignmentIn"];
export type AssignmentOut = Schemas["AssignmentOut"];
export type ClassBoard = Schemas["ClassBoard"];
export type BoardCell = Schemas["BoardCell"];
export type SkillOfClass = Schemas["SkillOfClass"];
export type Piece = Schemas["Piece"];
export type PieceFound = Schemas["PieceFound"];
export type RemarksOn = Schemas["RemarksOn"];
export type SheetAssignment = Schemas["SheetAssignment"];
export type RemarkIn = Schemas["RemarkIn"];
export type RoomState = Schemas["RoomState"];
export type RoomAnswers = Schemas["RoomAnswers"];
export type ExerciseLine = Schemas["ExerciseLine"];
export type SetOfWorksheets = Schemas["SetOfWorksheets"];
export type WantedSet = Schemas["WantedSet"];
export type Look = Schemas["Look"];
export type Sheet = Schemas["SightingSheet"];
export type Sighting = NonNullable<Sheet["sightings"]>[number];
export type Edge = Schemas["EdgeSighting"];
export type Rim = Schemas["RimSighting"];
export type Length = Schemas["LengthSighting"];
export type Alignment = Schemas["AlignmentSighting"];
export type Face = Schemas["FaceSighting"];
export type Division = Schemas["DivisionSighting"];
export type Height = Schemas["HeightSighting"];
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
export type FormSize = Schemas["ReportForm"];
export type Construction = Schemas["Construction"];
export type ConstructAnswer = Schemas["ConstructAnswer"];
export type FigureAnswer = Schemas["FigureAnswer"];
export type GuideAnswer = Schemas["GuideAnswer"];
export type EasedLine = Schemas["EasedLine"];
export type Along = Schemas["Along"];
export type PartAlong = Schemas["PartAlong"];
export type Problem = Schemas["Problem"];
export type Critique = Schemas["Critique"];
export type CritiqueFinding = Schemas["CritiqueFinding"];
export type CritiqueCause = Schemas["CritiqueCause"];
export type DrawingFull = Schemas["DrawingFull"];
export type DrawingLine = Schemas["DrawingLine"];
export type DrawnProposal = Schemas["DrawnProposal"];
export type PaperSize = Schemas["PaperSize"];
export type Steadiness = Schemas["Steadiness"];
export type SinceBefore = Schemas["SinceBefore"];
export type NearCorner = Schemas["ReportNearCorner"];
export type Schematic = Schemas["ReportSchematic"];
export type Slot = Schemas["ReportSlot"];
export type Thumb = Schemas["ReportThumb"];
export type Easel = Schemas["Easel"];
export type Plan = Schemas["Plan"];
export type PlanStep = Schemas["PlanStep"];
export type PaperPlan = Schemas["PaperPlan"];
export type Side = Schemas["Side"];
export type StandFile = Schemas["StandFile"];
export type StandThing = NonNullable<StandFile["things"]>[number];
export type StandView = Required<Schemas["StandView"]>;
export type StandDrawing = Schemas["StandDrawing"];
export type DrawnPoint = Schemas["DrawnPoint"];
export type StandSolids = Schemas["StandSolids"];
export type StandSolid = Schemas["StandSolid"];
export type StandLine = Schemas["StandLine"];
export type StandFull = Schemas["StandFull"];
export type StandSteps = Schemas["StandSteps"];
export type StandTurning = Schemas["StandTurning"];
export type StandElevations = Schemas["StandElevations"];
export type StandStroke = Schemas["StandStroke"];
export type DrawnElevations = Schemas["DrawnElevations"];
export type Outlined = Schemas["Outlined"];
export type Point = [number, number];

export function isRim(sighting: Sighting): sighting is Rim {
  return sighting.kind === "rim";
}

/** A rim laid on the picture. */
export function isLaidRim(sighting: Sighting): sighting is Rim {
  return sighting.kind === "rim" && ((sighting.points ?? []).length > 0 || !!sighting.ends);
}

/** An edge laid on the picture. */
export function isEdge(sighting: Sighting): sighting is Edge & { p: Point; q: Point } {
  return sighting.kind === "edge" && !!sighting.p && !!sighting.q;
}

/** A length laid on the picture. */
export function isLength(sighting: Sighting): sighting is Length & { p: Point; q: Point } {
  return sighting.kind === "length" && !!sighting.p && !!sighting.q;
}

/** An alignment laid on the picture. */
export function isAlignment(sighting: Sighting): sighting is Alignment & { p: Point; q: Point } {
  return sighting.kind === "alignment" && !!sighting.p && !!sighting.q;
}

/** Whether a sighting was read from life, whatever is laid on a photo beside it. */
export function isReading(sighting: Sighting): boolean {
  if (sighting.kind === "edge") return sighting.tilt_deg != null;
  if (sighting.kind === "length") return sighting.ratio != null;
  if (sighting.kind === "rim") return sighting.ratio != null || sighting.sight_deg != null;
  return sighting.kind === "alignment" && sighting.beside != null;
}

export function isFace(sighting: Sighting): sighting is Face & { corners: [Point, Point, Point, Point] } {
  return sighting.kind === "face";
}

/** Whether a sighting is neither an edge nor a rim. */
export function isMeasured(sighting: Sighting): boolean {
  return sighting.kind !== "edge" && sighting.kind !== "rim";
}

/** The two points of what is laid between two: edges, lengths, alignments, heights. */
export function twoEnds(sighting: Sighting): [Point, Point] | null {
  if (isEdge(sighting) || isLength(sighting)) return [sighting.p, sighting.q];
  if (isAlignment(sighting)) return [sighting.p, sighting.q];
  return sighting.kind === "height" ? [sighting.foot, sighting.top] : null;
}

/** The form that a sighting belongs to; a division belongs to its face's. */
export function formIdOf(sheet: Sheet, sighting: Sighting): string | null {
  if (sighting.kind !== "division") return sighting.form ?? null;
  const face = sheet.sightings?.find((s) => s.id === sighting.face);
  return face && face.kind !== "division" ? (face.form ?? null) : null;
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
export type Skill = Schemas["Skill"];
export type SkillLine = Schemas["SkillLine"];
export type SkillUnit = Schemas["SkillUnit"];
export type QuestionAsked = Schemas["QuestionAsked"];
export type ShownMark = Schemas["ShownMark"];
export type SetLine = Schemas["SetLine"];
export type Summary = Schemas["Summary"];
export type Logbook = Schemas["Logbook"];
export type LoggedSkill = Schemas["LoggedSkill"];
export type LoggedReading = Schemas["LoggedReading"];
export type SkillChart = Schemas["SkillChart"];
export type Timed = Schemas["Timed"];
export type UsualPhase = Schemas["UsualPhase"];
export type BroughtBack = Schemas["BroughtBack"];
