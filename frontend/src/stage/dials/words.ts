import type { Part } from "../../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  dial: {
    degrees: (value: Part) => `${value} degrees`,
  },
  needleDial: {
    needleTheTiltYouJudge: "Needle: the tilt you judge",
  },
  rimDial: {
    rimTheOpeningYouJudge: "Rim: the opening you judge",
  },
};
