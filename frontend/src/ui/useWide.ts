import { useSyncExternalStore } from "react";

/** Where the bar at the top has room for everything. */
const WIDE = "(min-width: 1240px)";

function follow(changed: () => void): () => void {
  const query = window.matchMedia(WIDE);
  query.addEventListener("change", changed);
  return () => query.removeEventListener("change", changed);
}

/** Whether the screen is wider than a tablet, upright or lying. */
export function useWide(): boolean {
  return useSyncExternalStore(follow, () => window.matchMedia(WIDE).matches);
}
