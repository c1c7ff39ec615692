/** What this room says, screen by screen: the one place to translate. */
export const words = {
  instrument: {
    choices: "Choices",
    dragThePointOrNudge: "Drag the point, or nudge it with the arrow keys.",
    pointAtThePlaceOn: "Point at the place on the picture.",
    dragTheLineOrNudge: "Drag the line, or nudge it with the arrow keys.",
    stickTheLengthYouJudge: "Stick: the length you judge",
    metres: "metres",
    units: "units",
    height: "Height",
  },
  questionPicture: {
    theLevelLine: "the level line",
    thePoint: "the point",
  },
  told: {
    withinTolerance: "✓ within tolerance",
    judged: "judged",
    true: "true",
  },
};
