import type { Part } from "../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  longTable: {
    longTableWhereTheVanishing: "Long table: where the vanishing points fall",
    before: (letter: Part, name: Part, words: Part) => `before: ${letter} ${name} · ${words}`,
    noVanishingPointsYet: "No vanishing points yet",
    vanishingPoint: (name: Part, family: Part, words: Part) => `${name} ${family} vanishing point: ${words}`,
  },
  stage: {
    thePhotoDidNotCome: "The photo did not come.",
    itsFileIsGone: "Its file is gone from the server’s disk, or the server cannot be reached.",
    whatWasSightedIsKept: "What was sighted on it is kept.",
  },
};
