import { useRef } from "react";
import type { Point } from "../api/types";

const LONG_PRESS_MS = 500;

/** A press that may become a long one, and then asks what runs there until it ends. */
export function useLongPress(onProbe: (at: Point | null) => void) {
  const press = useRef<{ timer: number; asks: boolean } | null>(null);
  const end = () => {
    if (press.current) window.clearTimeout(press.current.timer);
    if (press.current?.asks) onProbe(null);
    press.current = null;
  };
  const begin = (there: Point) => {
    const begun = { timer: 0, asks: false };
    begun.timer = window.setTimeout(() => {
      begun.asks = true;
      onProbe(there);
    }, LONG_PRESS_MS);
    press.current = begun;
  };
  /** Whether it asks already; nothing else is done by that hand then. */
  const asks = () => press.current?.asks ?? false;
  return { begin, end, asks };
}
