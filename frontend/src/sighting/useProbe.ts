import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../api/client";
import type { Point, ProbeAnswer, Sheet } from "../api/types";

export interface Probe {
  at: Point;
  answer: ProbeAnswer;
}

/** Asks, for as long as it is held, what must run where the hand is. */
export function useProbe(sheet: Sheet, allowed: boolean) {
  const [probe, setProbe] = useState<Probe | null>(null);
  const hand = useRef<Point | null>(null);
  const wanted = useRef<Point | null>(null);
  const asking = useRef(false);
  /** Held by its key, or by a long press on the picture. */
  const held = useRef<"key" | "press" | null>(null);
  const sheetNow = useRef(sheet);
  sheetNow.current = sheet;

  const ask = useCallback(async (at: Point) => {
    wanted.current = at;
    if (asking.current) return;
    asking.current = true;
    // one question at a time, the latest place next: a hand moves faster than answers come
    while (wanted.current) {
      const here: Point = wanted.current;
      wanted.current = null;
      try {
        const answer = await call("post", "/api/probe", {
          body: { document: sheetNow.current, at: here },
          again: true,
        });
        if (held.current) setProbe({ at: here, answer });
      } catch {
        if (held.current) setProbe({ at: here, answer: { runs: [], rim: null } });
      }
    }
    asking.current = false;
  }, []);
  const end = useCallback(() => {
    held.current = null;
    wanted.current = null;
    setProbe(null);
  }, []);
  const onProbe = useCallback(
    (at: Point | null) => {
      if (!at || !allowed) return end();
      held.current = "press";
      void ask(at);
    },
    [allowed, ask, end],
  );
  const onHover = useCallback(
    (at: Point) => {
      hand.current = at;
      if (held.current === "key") void ask(at);
    },
    [ask],
  );
  /** The key went down; without a hand on the picture it asks about `otherwise`. */
  const holdKey = useCallback(
    (otherwise: Point) => {
      if (!allowed || held.current) return;
      held.current = "key";
      void ask(hand.current ?? otherwise);
    },
    [allowed, ask],
  );
  useEffect(() => {
    const up = (event: Event) => {
      if (held.current === "key" && !(event instanceof KeyboardEvent && event.key.toLowerCase() !== "t")) end();
    };
    window.addEventListener("keyup", up);
    window.addEventListener("blur", up);
    return () => {
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", up);
    };
  }, [end]);
  useEffect(() => {
    if (!allowed) end();
  }, [allowed, end]);
  return { probe, onProbe, onHover, holdKey };
}
