import { useEffect, useState } from "react";
import type { Point } from "../api/types";
import { distance, roundPoint } from "./geometry";
import type { Task } from "./task";

const SHORTEST_SCREEN = 8; // px; what is shorter was a hand that trembled

/** The ends that are being laid: the first, where the hand is now, and the mark that the keys move. */
export function useEnds(task: Task, scale: number, onPlace: (p: Point, q: Point) => void) {
  const [first, setFirst] = useState<Point | null>(null);
  const [hand, setHand] = useState<Point | null>(null);
  const [cursor, setCursor] = useState<Point | null>(null);
  useEffect(() => {
    setFirst(null);
    setHand(null);
    if (task.kind === "look" || task.kind === "judge") setCursor(null);
  }, [task.kind]);

  /** Lay what runs from one point to another; whether it was long enough. */
  const lay = (from: Point, to: Point): boolean => {
    if (distance(from, to) * scale < SHORTEST_SCREEN) return false;
    onPlace(roundPoint(from), roundPoint(to));
    return true;
  };
  const drop = (point: Point) => {
    if (!first) setFirst(roundPoint(point));
    else if (lay(first, point)) {
      setFirst(null);
      setHand(null);
    }
  };
  const finish = (from: Point, to: Point) => {
    setHand(null);
    setFirst(null);
    lay(from, to);
  };
  return { first, setFirst, hand, setHand, cursor, setCursor, drop, finish };
}

export type Ends = ReturnType<typeof useEnds>;
