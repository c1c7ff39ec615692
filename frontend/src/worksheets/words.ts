import type { WantedSet } from "../api/types";
import type { Part } from "../ui/locale";
import { dayText } from "../ui/locale";

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
  return dayText(at);
}

/** What the screens say, one by one: the one place to translate. */
export const words = {
  bringBack: {
    bringOneBack: "Bring one back",
    bringAWorksheetBack: "Bring a worksheet back",
    theWholeSheetFlatAnd:
      "The whole sheet flat and sharp, its corner marks in the picture. It is known by them, flattened, and its pencil lines are laid beside the answer.",
    readingTheCornersFlatteningAnd: "Reading the corners, flattening, and looking for pencil lines…",
    sheet: (title: Part, number: Part) => `${title}, sheet ${number}.`,
    seeWhatHolds: "See what holds",
    itBearsNoName: "It bears no name. Whose is it?",
    choose: "Choose…",
    mine: "my own",
    fileIt: "File it",
  },
  printForm: {
    print: "Print",
    howHard: "How hard",
    paper: "Paper",
    forWord: "For",
    anybodyWithoutNames: "anybody, without names",
    eachOf: (name: Part) => `each of ${name}`,
    copies: "Copies",
    classLine: "Class line",
    picture: "Picture",
    boxesDrawnForIt: "boxes, drawn for it",
    photoOf: (title: Part) => `photo of ${title}`,
    othersOfTheKind: "Others of the kind",
    makeTheSet: "Make the set",
    noExerciseIsChosenYet: "No exercise is chosen yet.",
    copiesMade: "Copies made",
    ofWord: (made: Part, copies: Part) => `${made} of ${copies}`,
    stop: "Stop",
    theSetIsMade: "The set is made.",
    sheetsPdf: "Sheets (PDF)",
    answersPdf: "Answers (PDF)",
    printAt100NotFit:
      "Print at 100 %, not “fit to page”; the bar at the foot must measure 100 mm. A photo is known by any three of the sheet’s corner marks.",
  },
  printedSets: {
    printed: "Printed",
    exercise: "exercise",
    exercises: "exercises",
    copy: "copy",
    copies: "copies",
    files: "Files",
    sheetsPdf: "Sheets (PDF)",
    answersPdf: "Answers (PDF)",
    bothInOnePdf: "Both in one (PDF)",
    forgetTheSet: "Forget the set",
    cameBack: "Came back",
    sheet: (person: Part, title: Part, number: Part) => `${person}: ${title}, sheet ${number}`,
    lookAtIt: "look at it",
  },
  worksheetsScreen: {
    worksheets: "Worksheets",
    chooseTheExercisesInThe: "Choose the exercises in the order that they are to be drawn. Every copy has its own.",
    showTheAnswers: "Show the answers",
    exercises: "Exercises",
  },
};
