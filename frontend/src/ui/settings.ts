/** What a person set on this machine; kept by the browser, and never more than a convenience. */
import { useCallback, useState } from "react";

const PREFIX = "aspectum.";

export function stored(key: string): string | null {
  return localStorage.getItem(PREFIX + key);
}

export function store(key: string, value: string): void {
  localStorage.setItem(PREFIX + key, value);
}

/** A switch that is remembered. */
export function useStoredSwitch(key: string, first: boolean): [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(() => (stored(key) ?? (first ? "on" : "off")) !== "off");
  const turn = useCallback(
    (next: boolean) => {
      store(key, next ? "on" : "off");
      setOn(next);
    },
    [key],
  );
  return [on, turn];
}
