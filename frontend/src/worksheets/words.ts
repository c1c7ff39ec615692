import type { WantedSet } from "../api/types";
import { dayText } from "../ui/locale";
import { t } from "../words";

export const GRADES: readonly WantedSet["grade"][] = ["easy", "middle", "hard"];

/** What a set is to be, beside its exercises. */
export interface Choice {
  grade: WantedSet["grade"];
  paper: string;
  copies: number;
  classLine: string;
  /** The class whose students' names stand on the copies. */
  classId: string | null;
  seed: number;
  sheetId: string | null;
}

export const FIRST: Omit<Choice, "seed"> = {
  grade: "easy",
  paper: "A4",
  copies: 1,
  classLine: "",
  classId: null,
  sheetId: null,
};

const SEEDS = 2 ** 31;

/** Any of the sheets that there are. */
export function anySeed(): number {
  return Math.floor(Math.random() * SEEDS);
}

/** How many pages a set has. */
export function pagesWords(exercises: number, copies: number): string {
  return t("worksheets.pages", { count: exercises * copies });
}

export function madeWords(at: string): string {
  return dayText(at);
}
