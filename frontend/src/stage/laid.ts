import type {
  ConstructAnswer,
  EasedLine,
  FigureAnswer,
  Finding,
  GuideAnswer,
  Point,
  Report,
  Sheet,
  Sighting,
} from "../api/types";

/** What is drawn over the picture to measure by. `unit`: how long the unit is drawn, px. */
export interface Drawn {
  unit: number;
  construction: { answer: ConstructAnswer; shown: number } | null;
  guide: { along: "plumb" | "level"; answer: GuideAnswer } | null;
  figure: { foot: Point; answer: FigureAnswer | null } | null;
  eased: EasedLine[];
  cone: boolean;
}

/** What lies on the picture: the sheet's sightings with their findings, which of them is chosen, and whether all rest. */
export interface Laid {
  sheet: Sheet;
  report: Report;
  findings: Map<string, Finding>;
  chosen: Sighting | null;
  quiet: boolean;
}
