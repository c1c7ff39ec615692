import { useCallback, useSyncExternalStore } from "react";

/** Whether the screen is at least so wide. */
export function useWide(from_px: number): boolean {
  const asked = `(min-width: ${from_px}px)`;
  const follow = useCallback(
    (changed: () => void) => {
      const query = window.matchMedia(asked);
      query.addEventListener("change", changed);
      return () => query.removeEventListener("change", changed);
    },
    [asked],
  );
  return useSyncExternalStore(follow, () => window.matchMedia(asked).matches);
}
