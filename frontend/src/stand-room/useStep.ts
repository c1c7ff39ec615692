import { useCallback, useRef } from "react";
import { type ApiError, call } from "../api/client";
import type { StandFile, StandView } from "../api/types";
import { seenFrom } from "./edits";

const SETTLE_MS = 350;

/** Step nearer or back: the server says where the eye then stands. Steps that come fast are taken together, and kept once the hand rests. */
export function useStep(
  file: { current: StandFile },
  same: boolean,
  thing: string | null,
  show: (file: StandFile) => void,
  change: (file: StandFile) => void,
  onFault: (words: string) => void,
): (share: number) => void {
  const due = useRef(1);
  const busy = useRef(false);
  const settle = useRef<number | undefined>(undefined);
  // where the steps have come so far: the screen may take them up later than the next is asked
  const reached = useRef<StandFile | null>(null);
  return useCallback(
    (share: number) => {
      due.current *= share;
      if (busy.current) return;
      busy.current = true;
      window.clearTimeout(settle.current); // a slow answer does not make two turns of one
      const go = async () => {
        while (due.current !== 1) {
          const asked = Math.min(50, Math.max(0.02, due.current));
          due.current = 1;
          try {
            const next = await stepped({
              document: reached.current ?? file.current,
              share: asked,
              same_size: same,
              thing,
            });
            reached.current = next;
            show(next);
          } catch (error) {
            onFault((error as ApiError).message);
          }
        }
        busy.current = false;
        settle.current = window.setTimeout(() => {
          const next = reached.current;
          reached.current = null;
          if (next) change(next);
        }, SETTLE_MS);
      };
      void go();
    },
    [change, file, onFault, same, show, thing],
  );
}

interface Step {
  document: StandFile;
  share: number;
  same_size: boolean;
  thing: string | null;
}

/** The set-up from where the eye stands after a step. */
async function stepped(body: Step): Promise<StandFile> {
  return seenFrom(body.document, (await call("post", "/api/stand/step", { body, again: true })) as StandView);
}
