import { useCallback, useEffect, useState } from "react";
import { store, stored } from "../ui/settings";

export type Theme = "drawing-room" | "evening-class";
const KEY = "theme";

function firstTheme(): Theme {
  const kept = stored(KEY);
  if (kept === "drawing-room" || kept === "evening-class") return kept;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "evening-class" : "drawing-room";
}

/** The theme in use and a switch; remembered on this machine. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState(firstTheme);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const turn = useCallback(
    () =>
      setTheme((old) => {
        const next = old === "drawing-room" ? "evening-class" : "drawing-room";
        store(KEY, next);
        return next;
      }),
    [],
  );
  return [theme, turn];
}
