import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { ApiError, call, OF_PHOTOS_MS } from "../api/client";
import { newMark } from "../api/mark";
import type { Look, Picture } from "../api/types";

/** How far looking into a photo has come. */
export type Looking =
  | { kind: "not yet" }
  | { kind: "waiting"; ahead: number }
  | { kind: "looking" }
  | { kind: "looked"; look: Look }
  | { kind: "failed"; fault: string };

const TURN_EVERY_MS = 700;
const BUSY = 503;
const AGAIN_MS = 4000;

/** Looks into a photo for its forms, in the background; at once where `unasked`. */
export function useLook(picture: Picture, unasked: boolean) {
  const [looking, setLooking] = useState<Looking>({ kind: "not yet" });
  const [shut, setShut] = useState(false);
  const ticket = useRef<string | null>(null);
  const path = useMemo(() => ({ picture_id: picture.id }), [picture.id]);

  const end = useCallback(() => {
    const mine = ticket.current;
    ticket.current = null;
    if (mine)
      call("delete", "/api/pictures/{picture_id}/look", { path, query: { ticket: mine }, outlives: true }).catch(
        () => undefined,
      );
  }, [path]);
  const look = useCallback(async () => {
    const mine = newMark();
    ticket.current = mine;
    const current = () => ticket.current === mine;
    setShut(false);
    setLooking({ kind: "looking" });
    const asking = window.setInterval(async () => {
      const turn = await call("get", "/api/pictures/{picture_id}/look", { path, query: { ticket: mine } }).catch(
        () => null,
      );
      if (current() && turn?.ahead != null)
        setLooking(turn.ahead > 0 ? { kind: "waiting", ahead: turn.ahead } : { kind: "looking" });
    }, TURN_EVERY_MS);
    try {
      while (current()) {
        try {
          const found = await call("post", "/api/pictures/{picture_id}/look", {
            path,
            query: { ticket: mine },
            patience_ms: OF_PHOTOS_MS,
          });
          if (current()) setLooking({ kind: "looked", look: found });
          return;
        } catch (error) {
          // nobody waits for it: where others are looked at, it asks again
          if (!(error instanceof ApiError && error.status === BUSY)) throw error;
          await new Promise((resolve) => window.setTimeout(resolve, AGAIN_MS));
        }
      }
    } catch (error) {
      if (!current()) return;
      setLooking({ kind: "failed", fault: (error as Error).message });
      // no answer is waited for any more: so it is too where the page is being left, whose requests break off before it is told
      if (error instanceof ApiError && error.status === 0) end();
    } finally {
      window.clearInterval(asking);
      if (current()) ticket.current = null;
    }
  }, [end, path]);

  const stop = useCallback(() => {
    end();
    setLooking({ kind: "not yet" });
  }, [end]);

  const begun = useRef(false);
  useEffect(() => {
    if (!unasked || begun.current) return;
    begun.current = true;
    void look();
  }, [look, unasked]);
  // what nobody waits for any more keeps others waiting
  useEffect(() => {
    window.addEventListener("pagehide", end);
    return () => {
      window.removeEventListener("pagehide", end);
      end();
    };
  }, [end]);

  return { looking, shut, look, stop, shutIt: () => setShut(true) };
}
