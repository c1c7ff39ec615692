import type { Part } from "../../ui/locale";

/** What this room says, screen by screen: the one place to translate. */
export const words = {
  eyeLevel: {
    eyeLevelAtTheUp: (side: Part) => `Eye level at the ${side}; up and down arrows move it`,
    eyeLevelSet: "eye level, set",
    eyeLevel: "eye level",
    judged: "judged",
    zenith: "zenith",
    nadir: "nadir",
  },
  laying: {
    edgeChalkRimOpen: "edge-chalk rim-open",
    layInkRimOpen: "lay-ink rim-open",
  },
  measures: {
    footOfTheFigureArrow: "Foot of the figure; arrow keys walk it about",
    plumb: "Plumb",
    level: "Level",
  },
};
