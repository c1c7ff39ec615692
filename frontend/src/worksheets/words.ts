import type { WantedSet } from "../api/types";

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

export const GRADES: Record<WantedSet["grade"], string> = {
  easy: "easy",
  middle: "middle",
  hard: "hard",
};

const SEEDS = 2 ** 31;

/** Any of the sheets that there are. */
export function anySeed(): number {
  return Math.floor(Math.random() * SEEDS);
}

/** How many pages a set has. */
export function pagesWords(exercises: number, copies: number): string {
  const pages = exercises * copies;
  return `${pages} ${pages === 1 ? "page" : "pages"}, and as many with the answers`;
}

export function madeWords(at: string): string {
  return new Date(at).toLocaleDateString(undefined, { day: "numeric", month: "long" });
}
