import { type Family, looksStraight } from "../api/types";
import { inGroups } from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import type { Thing } from "../stage/task";
import { useKeys } from "../ui/keys";
import { planeOf } from "../ui/marks";
import { ADDING_KEYS, FAMILY_KEYS, MEASURING_KEYS, MOVING_KEYS } from "./keys";
import type { useMeasuring } from "./useMeasuring";
import type { useSighting } from "./useSighting";

/** The sighting screen's keys. */
export function useSightingKeys(
  open: OpenSheet,
  sighting: ReturnType<typeof useSighting>,
  measuring: ReturnType<typeof useMeasuring>,
  turnRims: () => void,
  probe: () => void,
  turnJudging: () => void,
  turnTruth: () => void,
  look: (() => void) | null,
): void {
  const { task, selected, actions } = sighting;
  const looking = task.kind === "look";
  const list = inGroups(open.sheet).flatMap((group) => group.sightings);
  const index = list.findIndex((s) => s.id === selected);
  const chosen = list[index] ?? null;
  // an action that does not apply leaves the key alone
  const when = (applies: unknown, act: () => void) => {
    if (applies) act();
    return !!applies;
  };
  const step = (by: -1 | 1) => {
    const next = list[index < 0 ? 0 : Math.min(list.length - 1, Math.max(0, index + by))];
    // a slip that is opened while a judgement is made would give things away
    return when(next && (looking || task.kind === "arc"), () => next && actions.select(next.id));
  };
  const reorder = (event: KeyboardEvent, by: -1 | 1) =>
    when(selected && !(event.target as Element).closest("[data-handle],[data-level],[role=slider]"), () =>
      actions.reorder(selected ?? "", by),
    );
  const drop = () => when(chosen, () => actions.remove(selected ?? ""));
  // with judging off edges are laid one after another, and the one just laid may still change its family
  const layingOn = (task.kind === "place" || task.kind === "seek") && task.judged === null;
  const family = (to: Family) =>
    when(chosen && (looking || layingOn), () => {
      const plane = planeOf(to);
      if (chosen?.kind === "edge") actions.family(chosen.id, to);
      else if (chosen?.kind === "rim" && plane) actions.plane(chosen.id, plane);
    });
  useKeys(ADDING_KEYS, {
    edge: () => when(looking && open.picture, () => sighting.begin("edge")),
    find: () => when(open.picture && (looking || (task.kind === "place" && task.thing === "edge")), sighting.findEdge),
    photo: () => when(open.picture && look, () => look?.()),
    rim: () => when(looking && open.picture, () => sighting.begin("rim")),
    points: () => when(looking && chosen?.kind === "rim", () => actions.addPoints(selected ?? "")),
    rims: turnRims,
    probe: () => when(looking && open.picture, probe),
    leave: () => {
      if (looking) actions.select(null);
      else sighting.leave();
      return false;
    },
    judging: turnJudging,
    truth: () => when(open.sheet.stand, turnTruth),
    form: () => when(looking, sighting.newForm),
    level: () => when(looking && open.picture && !looksStraight(open.sheet), sighting.turnLevel),
    judgeLevel: () => when(looking && open.picture && !looksStraight(open.sheet), sighting.judgeLevel),
    delete: drop,
    back: () => (task.kind === "arc" ? sighting.undoPoint() : drop()),
  });
  const begin = (thing: Thing) => () => when(looking && open.picture, () => sighting.begin(thing));
  const hold = (act: () => void) => () => when(looking && open.picture, act);
  const face = chosen?.kind === "face" ? chosen : null;
  useKeys(MEASURING_KEYS, {
    length: begin("length"),
    tilt: begin("tilt"),
    face: begin("face"),
    part: begin("part"),
    height: begin("height"),
    plumb: hold(() => measuring.turnGuide("plumb")),
    level: hold(() => measuring.turnGuide("level")),
    figure: hold(measuring.turnFigure),
    cone: hold(measuring.turnCone),
    construct: () => when(looking && face, () => face && measuring.turnConstruction(face.id)),
  });
  useKeys(FAMILY_KEYS, {
    left: () => family("left"),
    right: () => family("right"),
    upright: () => family("upright"),
    depth: () => family("depth"),
    across: () => family("across"),
    slope: () => family("slope"),
  });
  useKeys(MOVING_KEYS, {
    previous: () => step(-1),
    next: () => step(1),
    earlier: (event) => reorder(event, -1),
    later: (event) => reorder(event, 1),
    undo: open.undo,
    redo: open.redo,
  });
}
