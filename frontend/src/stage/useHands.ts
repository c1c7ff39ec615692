import { useGesture } from "@use-gesture/react";
import { type RefObject, useCallback, useState } from "react";
import type { Point, Sheet } from "../api/types";
import { roundPoint, type Size, toPicture } from "./geometry";
import { type Deeds, type Grip, gripAt, type Standing } from "./hands";
import { setsPoint, type Task } from "./task";
import { useEnds } from "./useEnds";
import { useLongPress } from "./useLongPress";
import { useStageKeys } from "./useStageKeys";
import type { useView } from "./useView";

const STILL_PX = 6;

interface Hands {
  box: RefObject<SVGSVGElement | null>;
  size: Size;
  place: ReturnType<typeof useView>;
  sheet: Sheet;
  task: Task;
  standing: Standing;
  deeds: Deeds;
}

/** A drag: what was taken hold of, and where in the picture. */
type Held = { grip: Grip; start: Point };
/** Where a drag has come to: in the picture, on the screen from where it began, and whether the hand let go. */
type Drag = { point: Point; movement: Point; last: boolean };

/** Pointer, touch and keys on the stage, and what they are about to lay, in picture points. */
export function useHands({ box, size, place, sheet, task, standing, deeds }: Hands) {
  const { view, zoom, pan } = place;
  const ends = useEnds(task, view.k, deeds.onPlace);
  const press = useLongPress(deeds.onProbe);
  /** The point that is held. */
  const [gripped, setGripped] = useState<{ id: string; key: string } | null>(null);

  const onStage = useCallback(
    (x: number, y: number): Point => {
      const frame = box.current?.getBoundingClientRect();
      return [x - (frame?.left ?? 0), y - (frame?.top ?? 0)];
    },
    [box],
  );
  const at = useCallback((x: number, y: number) => toPicture(view, onStage(x, y)), [onStage, view]);

  const moveGrip = (grip: Grip, { point, movement, last }: Drag) => {
    const by: Point = [movement[0] / view.k, movement[1] / view.k];
    if (grip.kind === "handle") {
      setGripped(last ? null : { id: grip.id, key: grip.key });
      deeds.onMoveHandle(grip.id, grip.key, roundPoint([grip.from[0] + by[0], grip.from[1] + by[1]]), last);
    } else if (grip.kind === "figure") deeds.onMoveFigure(roundPoint([grip.from[0] + by[0], grip.from[1] + by[1]]));
    else if (grip.kind === "guide") deeds.onMoveGuide(grip.from + by[standing.guide?.along === "level" ? 1 : 0]);
    else if (grip.kind === "level") deeds.onMoveLevel(grip.side, by[1], last);
    else if (grip.kind === "lay") ends.setHand(point);
  };
  const dragTo = ({ grip, start }: Held, drag: Drag) => {
    if (grip.kind === "lay" && drag.last) return ends.finish(ends.first ?? start, drag.point);
    if (grip.kind === "lay" && !ends.first) ends.setFirst(start);
    moveGrip(grip, drag);
  };
  const tapOn = (target: Element, point: Point) => {
    ends.setHand(null);
    setGripped(null);
    if (setsPoint(task)) deeds.onPoint(roundPoint(point));
    else if (task.kind === "place") ends.drop(point);
    else deeds.onSelect(target.closest("[data-edge]")?.getAttribute("data-edge") ?? null);
  };
  const beginPress = (event: PointerEvent) => {
    press.end();
    if (task.kind !== "look" || gripAt(event.target as Element, sheet, task, standing).kind !== "pan") return;
    press.begin(at(event.clientX, event.clientY));
  };

  useGesture(
    {
      onPointerDown: ({ event }) => beginPress(event),
      onPointerCancel: press.end,
      onDrag: ({ event, first, last, tap, xy, initial, delta, memo, pinching, cancel }) => {
        if (pinching) {
          press.end();
          cancel();
          return memo;
        }
        const point = at(...xy);
        // from where the hand went down: the library's own count leaves out what it takes to tell a drag from a tap
        const movement: Point = [xy[0] - initial[0], xy[1] - initial[1]];
        if (press.asks()) {
          if (last) press.end();
          else deeds.onProbe(point);
          return memo;
        }
        if (last || Math.hypot(...movement) > STILL_PX) press.end();
        let held = memo as Held | undefined;
        if (first || !held) {
          held = { grip: gripAt(event.target as Element, sheet, task, standing), start: at(...initial) };
          if (held.grip.kind === "handle") deeds.onSelect(held.grip.id);
        }
        if (tap) tapOn(event.target as Element, point);
        else if (held.grip.kind === "pan") pan(...delta);
        else dragTo(held, { point, movement, last });
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
        if ((task.kind === "place" && ends.first) || task.kind === "near" || task.kind === "corners")
          ends.setHand(at(...xy));
      },
    },
    {
      target: box,
      eventOptions: { passive: false },
      drag: { filterTaps: true, tapsThreshold: 4, pointer: { keys: false } },
      pinch: { scaleBounds: { min: 0.1, max: 20 } },
    },
  );

  const onKeyDown = useStageKeys({ size, place, sheet, task, standing, ends, deeds });
  return { first: ends.first, hand: ends.hand, cursor: ends.cursor, gripped, onKeyDown };
}
