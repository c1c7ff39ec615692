import { useGesture } from "@use-gesture/react";
import { type KeyboardEvent, type RefObject, useRef } from "react";
import type { StandView } from "../api/types";
import { actionOf, stepOf } from "../stage/keys";
import { metresAPixel, raised, type Spot, walked } from "./eye";
import { WALK_KEYS } from "./keys";
import type { Shading } from "./shading";

const TURN_A_PX = 0.35; // degrees walked for a pixel of the hand
const WHEEL_STEP = 1.0015;
const KEY_SHARE = 0.004; // of the picture's height that a degree of an arrow key raises the eye by

interface Walking {
  canvas: RefObject<HTMLCanvasElement | null>;
  shading: { current: Shading | null };
  view: StandView;
  /** What the hand walks round. */
  pivot: Spot;
  /** How large a pixel of the picture is shown. */
  scale: number;
  onView: (view: StandView, done: boolean) => void;
  /** Nearer or back, to a share of the distance. */
  onStep: (share: number) => void;
  onChoose: (thing: string | null) => void;
}

/** Pointer, wheel, pinch and arrow keys that walk round the set-up; a tap chooses what is under it. */
export function useWalking({ canvas, shading, view, pivot, scale, onView, onStep, onChoose }: Walking) {
  const from = useRef({ view, pivot });
  const chooseAt = (x: number, y: number, box: DOMRect) =>
    onChoose(
      shading.current?.thingAt(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2) ?? null,
    );
  const bind = useGesture(
    {
      onDrag: ({ first, movement: [mx, my], tap, last, xy: [x, y], pinching }) => {
        if (pinching) return;
        if (first) from.current = { view, pivot };
        const box = canvas.current?.getBoundingClientRect();
        if (tap && box) return chooseAt(x, y, box);
        const { view: began, pivot: about } = from.current;
        const metres = (my * metresAPixel(began, about)) / scale;
        onView(raised(walked(began, about, -mx * TURN_A_PX), about, metres), last);
      },
      onWheel: ({ delta: [, dy] }) => dy !== 0 && onStep(WHEEL_STEP ** dy),
      onPinch: ({ delta: [d], offset: [at] }) => d !== 0 && onStep((at - d) / at),
    },
    { drag: { filterTaps: true, pointer: { keys: false } }, pinch: { pointer: { touch: true } } },
  );
  const onKeyDown = (event: KeyboardEvent) => {
    const way = actionOf(WALK_KEYS, event.key);
    if (!way) return;
    event.preventDefault();
    const by = stepOf(event, 15, 5, 1);
    const metres = metresAPixel(view, pivot) * view.height_px * KEY_SHARE * by;
    onView(
      way === "left" || way === "right"
        ? walked(view, pivot, way === "left" ? -by : by)
        : raised(view, pivot, way === "up" ? metres : -metres),
      true,
    );
  };
  return { ...bind(), onKeyDown };
}
