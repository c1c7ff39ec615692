import { useGesture } from "@use-gesture/react";
import { type KeyboardEvent, type RefObject, useCallback, useEffect, useRef, useState } from "react";
import type { Point, Sheet } from "../api/types";
import { distance, roundPoint, type Size, toPicture } from "./geometry";
import { handlesOf } from "./handles";
import { actionOf, STAGE_KEYS, stepOf } from "./keys";
import { setsPoint, type Task } from "./task";
import type { useView } from "./useView";

const SHORTEST_SCREEN = 8;
const LONG_PRESS_MS = 500;
const STILL_PX = 6;
export type LevelSide = "left" | "right" | "both";
type Grip =
  | { kind: "pan" }
  | { kind: "handle"; id: string; key: string; from: Point }
  | { kind: "level"; side: LevelSide }
  | { kind: "figure"; from: Point }
  | { kind: "guide"; from: number }
  | { kind: "lay" };

/** What a hand can do on the stage. */
export interface Deeds {
  onSelect: (id: string | null) => void;
  /** One single point was set, for a task that asks for one. */
  onPoint: (at: Point) => void;
  /** Two ends were laid. */
  onPlace: (p: Point, q: Point) => void;
  onMoveHandle: (id: string, key: string, to: Point, done: boolean) => void;
  /** The hand is over the picture, and where. */
  onHover: (at: Point) => void;
  /** A long press asks what runs where it is held; null when it ends. */
  onProbe: (at: Point | null) => void;
  onMoveFigure: (to: Point) => void;
  onMoveGuide: (at_px: number) => void;
  onMoveLevel: (side: LevelSide, dy: number, done: boolean) => void;
}

/** Pointer, touch and keys on the stage, and what they are about to lay, in picture points. */
export function useHands({
  box,
  size,
  place,
  sheet,
  task,
  standing,
  deeds,
}: {
  box: RefObject<SVGSVGElement | null>;
  size: Size;
  place: ReturnType<typeof useView>;
  sheet: Sheet;
  task: Task;
  /** Where a figure stands, and where a plumb or level line is held, if there are any. */
  standing: { figure: Point | null; guide: { along: "plumb" | "level"; at_px: number } | null };
  deeds: Deeds;
}) {
  const { view, zoom, pan, reset } = place;
  /** The first end that was set, where the hand is now, the mark that the keys move, the point that is held. */
  const [first, setFirst] = useState<Point | null>(null);
  const [hand, setHand] = useState<Point | null>(null);
  const [cursor, setCursor] = useState<Point | null>(null);
  const [gripped, setGripped] = useState<{ id: string; key: string } | null>(null);
  useEffect(() => {
    setFirst(null);
    setHand(null);
    if (task.kind === "look" || task.kind === "judge") setCursor(null);
  }, [task.kind]);

  const onStage = useCallback(
    (x: number, y: number): Point => {
      const frame = box.current?.getBoundingClientRect();
      return [x - (frame?.left ?? 0), y - (frame?.top ?? 0)];
    },
    [box],
  );
  const at = useCallback((x: number, y: number) => toPicture(view, onStage(x, y)), [onStage, view]);

  const moveGrip = (grip: Grip, point: Point, moved: Point, done: boolean) => {
    if (grip.kind === "handle") {
      const to = roundPoint([grip.from[0] + moved[0] / view.k, grip.from[1] + moved[1] / view.k]);
      setGripped(done ? null : { id: grip.id, key: grip.key });
      deeds.onMoveHandle(grip.id, grip.key, to, done);
    } else if (grip.kind === "figure")
      deeds.onMoveFigure(roundPoint([grip.from[0] + moved[0] / view.k, grip.from[1] + moved[1] / view.k]));
    else if (grip.kind === "guide")
      deeds.onMoveGuide(grip.from + moved[standing.guide?.along === "level" ? 1 : 0] / view.k);
    else if (grip.kind === "level") deeds.onMoveLevel(grip.side, moved[1] / view.k, done);
    else if (grip.kind === "lay") setHand(done ? null : point);
  };
  const dropEnd = (point: Point) => {
    const to = roundPoint(point);
    if (!first) setFirst(to);
    else if (distance(first, to) * view.k >= SHORTEST_SCREEN) {
      setFirst(null);
      setHand(null);
      deeds.onPlace(first, to);
    }
  };

  /** A press that may become a long one, and then asks until it ends. */
  const press = useRef<{ timer: number; asks: boolean } | null>(null);
  const endPress = () => {
    if (press.current) window.clearTimeout(press.current.timer);
    if (press.current?.asks) deeds.onProbe(null);
    press.current = null;
  };
  const beginPress = (event: PointerEvent) => {
    endPress();
    if (task.kind !== "look" || gripAt(event.target as Element, sheet, task, standing).kind !== "pan") return;
    const there = at(event.clientX, event.clientY);
    const begun = { timer: 0, asks: false };
    begun.timer = window.setTimeout(() => {
      begun.asks = true;
      deeds.onProbe(there);
    }, LONG_PRESS_MS);
    press.current = begun;
  };

  useGesture(
    {
      onPointerDown: ({ event }) => beginPress(event),
      onPointerCancel: endPress,
      onDrag: ({ event, first: started, last, tap, xy, initial, delta, memo, pinching, cancel }) => {
        if (pinching) {
          endPress();
          cancel();
          return memo;
        }
        const point = at(...xy);
        // from where the hand went down: the library's own count leaves out what it takes to tell a drag from a tap
        const movement: Point = [xy[0] - initial[0], xy[1] - initial[1]];
        if (press.current?.asks) {
          if (last) endPress();
          else deeds.onProbe(point);
          return memo;
        }
        if (last || Math.hypot(...movement) > STILL_PX) endPress();
        let held = memo as { grip: Grip; start: Point } | undefined;
        if (started || !held) {
          held = {
            grip: gripAt(event.target as Element, sheet, task, standing),
            start: at(...initial),
          };
          if (held.grip.kind === "handle") deeds.onSelect(held.grip.id);
        }
        if (tap) {
          setHand(null);
          setGripped(null);
          if (setsPoint(task)) deeds.onPoint(roundPoint(point));
          else if (task.kind === "place") dropEnd(point);
          else deeds.onSelect((event.target as Element).closest("[data-edge]")?.getAttribute("data-edge") ?? null);
        } else if (held.grip.kind === "pan") pan(...delta);
        else if (held.grip.kind === "lay" && last) {
          const from = first ?? held.start;
          setHand(null);
          setFirst(null);
          if (distance(from, point) * view.k >= SHORTEST_SCREEN) deeds.onPlace(roundPoint(from), roundPoint(point));
        } else {
          if (held.grip.kind === "lay" && !first) setFirst(held.start);
          moveGrip(held.grip, point, movement, last);
        }
        return held;
      },
      onPinch: ({ origin, delta: [d], event }) => {
        event.preventDefault();
        zoom(onStage(...origin), 1 + d);
      },
      onWheel: ({ event, delta: [, dy], ctrlKey }) => {
        if (ctrlKey) return;
        event.preventDefault();
        zoom(onStage(event.clientX, event.clientY), Math.exp(-dy * 0.0015));
      },
      onMove: ({ xy }) => {
        deeds.onHover(at(...xy));
        if ((task.kind === "place" && first) || task.kind === "near" || task.kind === "corners") setHand(at(...xy));
      },
    },
    {
      target: box,
      eventOptions: { passive: false },
      drag: { filterTaps: true, tapsThreshold: 4, pointer: { keys: false } },
      pinch: { scaleBounds: { min: 0.1, max: 20 } },
    },
  );

  const onKeyDown = (event: KeyboardEvent<SVGSVGElement>) => {
    const action = actionOf(STAGE_KEYS, event.key);
    if (!action) return;
    const target = event.target as Element;
    const way = WAYS[action];
    const handle = target.closest("[data-handle]");
    const level = target.closest("[data-level]");
    if (way && handle) {
      event.preventDefault();
      const grip = handleAt(handle, sheet);
      const by = stepOf(event, 10, 1, 0.2);
      if (grip)
        deeds.onMoveHandle(
          grip.id,
          grip.key,
          roundPoint([grip.from[0] + way[0] * by, grip.from[1] + way[1] * by]),
          true,
        );
    } else if (way && target.closest("[data-figure]") && standing.figure) {
      event.preventDefault();
      const by = stepOf(event, 25, 5, 1);
      deeds.onMoveFigure(roundPoint([standing.figure[0] + way[0] * by, standing.figure[1] + way[1] * by]));
    } else if (way && target.closest("[data-guide]") && standing.guide) {
      event.preventDefault();
      const by = way[standing.guide.along === "plumb" ? 0 : 1] * stepOf(event, 25, 5, 1);
      if (by) deeds.onMoveGuide(standing.guide.at_px + by);
    } else if (way && level && way[1] !== 0) {
      event.preventDefault();
      deeds.onMoveLevel(level.getAttribute("data-level") as LevelSide, way[1] * stepOf(event, 10, 1, 0.2), true);
    } else if (action === "closer" || action === "farther") {
      event.preventDefault();
      zoom([size.width / 2, size.height / 2], action === "closer" ? 1.25 : 1 / 1.25);
    } else if (action === "whole") reset();
    else if (task.kind !== "place" && !setsPoint(task)) {
      if (!way || level) return;
      event.preventDefault();
      const by = stepOf(event, 120, 40, 40);
      pan(-way[0] * by, -way[1] * by);
    } else moveCursor(event, way);
  };
  /** While points are laid the arrow keys move a mark, and Enter sets one there. */
  const moveCursor = (event: KeyboardEvent<SVGSVGElement>, way: Point | undefined) => {
    event.preventDefault();
    const begun = task.kind === "place" || task.kind === "near" || task.kind === "spot" ? task.at : null;
    const here = cursor ?? begun ?? toPicture(view, [size.width / 2, size.height / 2]);
    if (way) {
      const by = stepOf(event, 25, 5, 1);
      const next: Point = [here[0] + way[0] * by, here[1] + way[1] * by];
      setCursor(next);
      if (first || task.kind === "near" || task.kind === "corners") setHand(next);
      return;
    }
    event.stopPropagation();
    if (!cursor) setCursor(here);
    if (setsPoint(task)) deeds.onPoint(roundPoint(here));
    else dropEnd(here);
  };

  return { first, hand, cursor, gripped, onKeyDown };
}

const WAYS: Partial<Record<string, Point>> = { left: [-1, 0], right: [1, 0], up: [0, -1], down: [0, 1] };

function gripAt(
  target: Element,
  sheet: Sheet,
  task: Task,
  standing: { figure: Point | null; guide: { at_px: number } | null },
): Grip {
  if (task.kind === "place") return { kind: "lay" };
  if (standing.figure && target.closest("[data-figure]")) return { kind: "figure", from: standing.figure };
  if (standing.guide && target.closest("[data-guide]")) return { kind: "guide", from: standing.guide.at_px };
  const handle = target.closest("[data-handle]");
  const grip = handle && handleAt(handle, sheet);
  if (grip) return { kind: "handle", ...grip };
  const level = target.closest("[data-level]");
  return level ? { kind: "level", side: level.getAttribute("data-level") as LevelSide } : { kind: "pan" };
}

function handleAt(handle: Element, sheet: Sheet): { id: string; key: string; from: Point } | null {
  const id = handle.getAttribute("data-edge") ?? "";
  const key = handle.getAttribute("data-handle") ?? "";
  const sighting = sheet.sightings?.find((s) => s.id === id);
  const found = sighting && handlesOf(sighting).find((h) => h.key === key);
  return found ? { id, key, from: found.at } : null;
}
