import { useCallback, useEffect, useState } from "react";
import type { StandDrawing, StandFile } from "../api/types";

/** A view that was kept, to see what another changes. */
export interface Kept {
  file: StandFile;
  drawing: StandDrawing;
  /** Its shading, as the address of a picture; null where the browser has none. */
  picture: string | null;
}

export interface Compare {
  kept: Kept | null;
  /** Beside this view, or over it as a ghost. */
  beside: boolean;
  keep: (kept: Kept) => void;
  letGo: () => void;
  setBeside: (beside: boolean) => void;
}

/** "What would change if…": one view is kept while the other changes. */
export function useCompare(): Compare {
  const [kept, setKept] = useState<Kept | null>(null);
  const [beside, setBeside] = useState(false);
  const picture = kept?.picture;
  useEffect(() => () => void (picture && URL.revokeObjectURL(picture)), [picture]);
  const letGo = useCallback(() => setKept(null), []);
  return { kept, beside, keep: setKept, letGo, setBeside };
}
