import { type RefObject, useEffect, useLayoutEffect, useState } from "react";
import type { StandFile, StandSolids } from "../api/types";
import { viewOf } from "./edits";
import { Shading } from "./shading";

const REST_MS = 160;

interface Shaded {
  canvas: RefObject<HTMLCanvasElement | null>;
  /** Whoever makes a picture of the view takes the shading from here. */
  shading: { current: Shading | null };
  file: StandFile;
  solids: StandSolids | null;
  /** While the hand moves something nothing is drawn smooth: it would make the hand wait. */
  moving: boolean;
  /** How large the picture is shown, px. */
  width: number;
  height: number;
}

/** The set-up shaded on its canvas: whether this browser can, and whether there is something to see. */
export function useShading({ canvas, shading, file, solids, moving, width, height }: Shaded) {
  const [shaded, setShaded] = useState(true);
  const [ready, setReady] = useState(false);
  useLayoutEffect(() => {
    if (!canvas.current) return;
    try {
      shading.current = new Shading(canvas.current);
    } catch {
      setShaded(false);
    }
    return () => {
      shading.current?.dispose();
      shading.current = null;
    };
  }, [canvas, shading]);
  useEffect(() => {
    if (!solids || !shading.current) return;
    shading.current.setSolids(solids);
    setReady(true);
  }, [solids, shading]);
  // what the hand shows is drawn with the next frame, the newest alone, and smooth once it rests
  useEffect(() => {
    if (!ready || !solids) return;
    const drawn = (smooth: boolean) => shading.current?.draw(file, viewOf(file), width, height, smooth);
    const frame = requestAnimationFrame(() => drawn(false));
    const rest = moving ? undefined : window.setTimeout(() => drawn(true), REST_MS);
    return () => {
      cancelAnimationFrame(frame);
      window.clearTimeout(rest);
    };
  }, [ready, solids, file, moving, width, height, shading]);
  return { shaded, ready };
}
