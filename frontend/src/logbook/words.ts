import type { Part } from "../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  logbookScreen: {
    logbook: "Logbook",
    readings: (readings: Part) => `${readings} readings`,
    readingsAsCsv: "Readings as CSV",
    onePageForTheTutor: "One page for the tutor (PDF)",
    bringReadingsIn: "Bring readings in",
    logbookToBringIn: "Logbook to bring in",
    readingsAdded: "readings added",
    wereThereAlready: (there: Part) => `, ${there} were there already`,
    noReadingsYetEverythingThat: "No readings yet. Everything that you judge on a sheet, draw on paper or answer in",
    practice: "practice",
    isKeptHereSkillBy: "is kept here, skill by skill.",
    skills: "Skills",
    nTooFewToSay: (n: Part) => `n ${n}: too few to say`,
    gettingBetter: ", getting better",
    gettingWorse: ", getting worse",
    biasSpreadN: (amount: Part, amount2: Part, n: Part, trending: Part) =>
      `bias ${amount}, spread ${amount2}, n ${n}${trending}`,
    practiseTen: "Practise ten",
    ofFiveReadingsTooFew: (n: Part) => `${n} of five readings: too few to say.`,
    lastFourWeeksBiasTo: (amount: Part, amount2: Part, amount3: Part, amount4: Part, n: Part) =>
      `Last four weeks: bias ${amount} (${amount2} to ${amount3}), spread ${amount4}, n ${n}.`,
    readings2: "Readings",
    forNextTime: "For next time",
  },
  readingTable: {
    judgedOnASheet: "judged on a sheet",
    opening: "Opening…",
    readingsOf: (title: Part) => `Readings of ${title}`,
    when: "When",
    judged: "Judged",
    true: "True",
    error: "Error",
    took: "Took",
    from: "From",
    later: "Later",
    pageOf: (value: Part, pages: Part) => `Page ${value} of ${pages}`,
    earlier: "Earlier",
  },
  skillChart: {
    opening: "Opening…",
    judgedLessTrueInAbove: (value: Part, over: Part, under: Part) =>
      `Judged less true in ${value}: above the line ${over}, below it ${under}. Diamonds are weekly means with their 95 % interval, hollow where a week has under five readings; the band is within tolerance.`,
  },
};
