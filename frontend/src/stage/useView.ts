import { useCallback, useMemo, useState } from "react";
import type { Point } from "../api/types";
import { fitView, type Size, type View, zoomAt } from "./geometry";

/** Where the picture lies on the stage: fitted until it is moved, then where the hand left it. */
export function useView(picture: Size, stage: Size) {
  const [moved, setMoved] = useState<View | null>(null);
  const { width, height } = picture;
  const fitted = useMemo(
    () => fitView({ width, height }, { width: stage.width, height: stage.height }),
    [width, height, stage.width, stage.height],
  );
  const zoom = useCallback(
    (centre: Point, factor: number) =>
      setMoved((old) => zoomAt(old ?? fitted, centre, factor, fitted.k * 0.25, Math.max(12, fitted.k * 16))),
    [fitted],
  );
  const pan = useCallback(
    (dx: number, dy: number) =>
      setMoved((old) => {
        const from = old ?? fitted;
        return { ...from, x: from.x + dx, y: from.y + dy };
      }),
    [fitted],
  );
  const reset = useCallback(() => setMoved(null), []);
  return { view: moved ?? fitted, zoom, pan, reset };
}
