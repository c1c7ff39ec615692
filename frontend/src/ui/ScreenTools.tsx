import { type ReactNode, useEffect, useState } from "react";
import { createPortal } from "react-dom";

/** Puts a screen's own tools into the head. */
export function ScreenTools({ children }: { children: ReactNode }) {
  const [slot, setSlot] = useState<HTMLElement | null>(null);
  useEffect(() => setSlot(document.getElementById("screen-tools")), []);
  return slot ? createPortal(children, slot) : null;
}
