import { useEffect } from "react";

/** Keep the screen on while somebody sights, where the browser can. */
export function useAwake(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    let gone = false;
    const take = () => {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      void navigator.wakeLock
        .request("screen")
        .then((got) => {
          if (gone) void got.release();
          else lock = got;
        })
        .catch(() => undefined); // a low battery may refuse it: the screen then dims as it always does
    };
    take();
    document.addEventListener("visibilitychange", take);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", take);
      void lock?.release();
    };
  }, []);
}
