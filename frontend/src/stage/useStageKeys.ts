import type { KeyboardEvent } from "react";
import type { Point, Sheet } from "../api/types";
import { roundPoint, type Size, toPicture } from "./geometry";
import { type Deeds, handleAt, type LevelSide, type Standing } from "./hands";
import { actionOf, STAGE_KEYS, stepOf, wayOf } from "./keys";
import { setsPoint, type Task } from "./task";
import type { Ends } from "./useEnds";
import type { useView } from "./useView";

type StageKey = KeyboardEvent<SVGSVGElement>;

interface Keys {
  size: Size;
  place: ReturnType<typeof useView>;
  sheet: Sheet;
  task: Task;
  standing: Standing;
  ends: Ends;
  deeds: Deeds;
}

/** The stage's keys: what is focused is moved, the picture is zoomed and moved, points are laid. */
export function useStageKeys({ size, place, sheet, task, standing, ends, deeds }: Keys) {
  const { view, zoom, pan, reset } = place;

  /** Move what has the focus; whether there was anything to move. */
  const moveFocused = (event: StageKey, way: Point): boolean => {
    const target = event.target as Element;
    const handle = target.closest("[data-handle]");
    const level = target.closest("[data-level]");
    if (handle) {
      const grip = handleAt(handle, sheet);
      if (grip) deeds.onMoveHandle(grip.id, grip.key, stepped(grip.from, way, stepOf(event, 10, 1, 0.2)), true);
    } else if (target.closest("[data-figure]") && standing.figure)
      deeds.onMoveFigure(stepped(standing.figure, way, stepOf(event, 25, 5, 1)));
    else if (target.closest("[data-guide]") && standing.guide) {
      const by = way[standing.guide.along === "plumb" ? 0 : 1] * stepOf(event, 25, 5, 1);
      if (by) deeds.onMoveGuide(standing.guide.at_px + by);
    } else if (level && way[1] !== 0)
      deeds.onMoveLevel(level.getAttribute("data-level") as LevelSide, way[1] * stepOf(event, 10, 1, 0.2), true);
    else return false;
    return true;
  };

  /** While points are laid the arrow keys move a mark, and Enter sets one there. */
  const moveCursor = (event: StageKey, way: Point | null) => {
    const begun = task.kind === "place" || task.kind === "near" || task.kind === "spot" ? task.at : null;
    const here = ends.cursor ?? begun ?? toPicture(view, [size.width / 2, size.height / 2]);
    if (way) {
      const by = stepOf(event, 25, 5, 1);
      const next: Point = [here[0] + way[0] * by, here[1] + way[1] * by];
      ends.setCursor(next);
      if (ends.first || task.kind === "near" || task.kind === "corners") ends.setHand(next);
      return;
    }
    event.stopPropagation();
    if (!ends.cursor) ends.setCursor(here);
    if (setsPoint(task)) deeds.onPoint(roundPoint(here));
    else ends.drop(here);
  };

  return (event: StageKey) => {
    const action = actionOf(STAGE_KEYS, event.key);
    if (!action) return;
    const way = wayOf(action);
    if (way && moveFocused(event, way)) event.preventDefault();
    else if (action === "closer" || action === "farther") {
      event.preventDefault();
      zoom([size.width / 2, size.height / 2], action === "closer" ? 1.25 : 1 / 1.25);
    } else if (action === "whole") reset();
    else if (task.kind !== "place" && !setsPoint(task)) {
      if (!way || (event.target as Element).closest("[data-level]")) return;
      event.preventDefault();
      const by = stepOf(event, 120, 40, 40);
      pan(-way[0] * by, -way[1] * by);
    } else {
      event.preventDefault();
      moveCursor(event, way);
    }
  };
}

function stepped(from: Point, way: Point, by: number): Point {
  return roundPoint([from[0] + way[0] * by, from[1] + way[1] * by]);
}
