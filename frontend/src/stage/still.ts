import type { Drawn } from "./laid";
import type { Task } from "./task";

const NO_AIDS: Drawn = { unit: 0, construction: null, guide: null, figure: null, eased: [], cone: false };
const nothing = () => undefined;

/** A stage to look at: no task, no aids, and nothing that is done on it does anything. */
export const STILL = {
  task: { kind: "look" } as Task,
  rimsDue: null,
  probe: null,
  fan: null,
  drawn: NO_AIDS,
  onSelect: nothing,
  onPoint: nothing,
  onPlace: nothing,
  onMoveHandle: nothing,
  onHover: nothing,
  onProbe: nothing,
  onMoveFigure: nothing,
  onMoveGuide: nothing,
  onMoveLevel: nothing,
  onView: nothing,
};
