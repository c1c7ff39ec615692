import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type ApiError, call } from "../api/client";
import { newest } from "../api/newest";
import type { DrawnElevations, Outlined, Point, StandElevations, StandThing } from "../api/types";

export type On = "front" | "side";
type Asked = NonNullable<Parameters<typeof ask>[0]>;
export const GRIDS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.25, 0.5];
const LEAST_GRID = 0.005;
const STEPS_ACROSS = 16; // of the grid, at least, across a thing's largest size
export const DIVISIONS = ["none", "halves", "thirds", "quarters", "bays"] as const;
export type Division = (typeof DIVISIONS)[number];

const ask = (body: {
  thing: StandThing;
  drawn?: DrawnElevations | null;
  by?: On | null;
  held?: number | null;
  grid_m?: number | null;
  symmetrical?: On[];
  divisions?: "halves" | "thirds" | "quarters" | null;
  bays?: number | null;
  typed?: [number, number, number] | null;
}) => call("post", "/api/stand/elevations", { body, again: true });

function gridFor(size: [number, number, number]): number {
  return GRIDS.findLast((step) => step * STEPS_ACROSS <= Math.max(...size)) ?? LEAST_GRID;
}

/** In what the faces are divided. */
function useDivision() {
  const [division, setDivision] = useState<Division>("none");
  const [bays, setBays] = useState(5);
  const parts = useMemo(
    () => ({
      divisions: division === "none" || division === "bays" ? null : division,
      bays: division === "bays" ? bays : null,
    }),
    [division, bays],
  );
  return { division, setDivision, bays, setBays, parts };
}

/** A thing's elevations as the server draws them, and what changes them. */
export function useElevations(thing: StandThing, onThing: (thing: StandThing, done: boolean) => void) {
  const divided = useDivision();
  const { parts } = divided;
  const [shown, setShown] = useState<StandElevations | null>(null);
  const [fault, setFault] = useState("");
  const [picked, setGrid] = useState<number | null>(null);
  const [halves, setHalves] = useState<On[]>([]);
  const [questions] = useState(newest);
  // what a drag has shown and not kept yet
  const live = useRef<StandThing | null>(null);
  // what it is drawn on: the thing as it was kept last, not as a drag has it for now
  const base = useRef(thing);
  if (live.current === null) base.current = thing;

  /** What is refused is said, and the thing stays as it was. */
  const send = useCallback(
    (body: Asked, done: boolean, change: boolean) =>
      questions.ask(async () => {
        try {
          const found = await ask(body);
          setShown(found);
          // it stays as it is while the thing grows under the hand
          setGrid((old) => old ?? gridFor(found.size_m));
          setFault("");
          live.current = done ? null : found.thing;
          if (change) onThing(found.thing, done);
        } catch (error) {
          setFault((error as ApiError).message);
          if (!done) return;
          // a drag that ends where nothing can be leaves the thing as it last could
          const last = live.current;
          live.current = null;
          if (last) onThing(last, true);
        }
      }),
    [onThing, questions],
  );

  // the thing may have been changed elsewhere: by undo, or in its fields
  const known = useRef("");
  const key = JSON.stringify([thing, parts]);
  useEffect(() => {
    const told = shown && JSON.stringify([shown.thing, parts]);
    if (known.current === key || told === key || questions.busy()) return;
    known.current = key;
    send({ thing, ...parts }, true, false);
  }, [key, parts, questions, send, shown, thing]);

  const drawn = shown?.drawn ?? null;
  const size = shown?.size_m ?? [1, 1, 1];
  const grid = picked ?? gridFor(size);
  const put = (next: DrawnElevations, by: On, held: number | null, done: boolean, symmetrical = halves) =>
    send({ thing: base.current, drawn: next, by, held, grid_m: grid, symmetrical, ...parts }, done, true);
  const outline = (on: On): Outlined | null => (on === "front" ? drawn?.front : drawn?.side) ?? null;
  const begin = (on: On) => {
    if (!drawn) return;
    const [w, d, h] = drawn.size_m;
    const half = (on === "front" ? w : d) / 2;
    const ring: Point[] = [
      [half, 0],
      [half, h],
      [-half, h],
      [-half, 0],
    ];
    put({ ...drawn, [on]: { points: ring, smooth: [] } }, on, null, true);
  };
  const typed = (n: number, value: number | null, done = true, grid_m: number | null = null) => {
    if (!drawn || value === null) return;
    const next = drawn.size_m.map((old, i) => (i === n ? value : old)) as [number, number, number];
    send({ thing: base.current, drawn, typed: next, held: grid_m === null ? null : n, grid_m, ...parts }, done, true);
  };
  // a side that is pulled snaps to the grid; both halves of the plan move alike
  const pulled = (across: number, up: number, upHalves: boolean) => ({
    size: [size[across] ?? 1, size[up] ?? 1] as Point,
    halves: upHalves,
    onSize: (way: "across" | "up", value: number, done: boolean) =>
      typed(way === "across" ? across : up, value, done, grid),
  });
  const rectangle = (on: On) =>
    drawn && send({ thing, drawn: { ...drawn, [on]: null, widths: [], holes: [] }, ...parts }, true, true);
  const alike = (on: On, both: boolean) => {
    const next = both ? [...halves, on] : halves.filter((one) => one !== on);
    setHalves(next);
    if (both && drawn) put(drawn, on, null, true, next);
  };
  return {
    ...{ shown, fault, drawn, size, grid, setGrid, halves, divided },
    ...{ put, outline, begin, typed, pulled, rectangle, alike },
  };
}

export type OpenElevations = ReturnType<typeof useElevations>;
