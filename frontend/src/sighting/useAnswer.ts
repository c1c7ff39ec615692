import { useEffect, useRef, useState } from "react";
import type { ApiError } from "../api/client";

/** What the server says to a question, asked again whenever `key` changes; null asks nothing. Of questions that come faster than
 * answers only the latest is kept waiting, and the last answer stands until the next.
 */
export function useAnswer<T>(key: string | null, ask: () => Promise<T>): { answer: T | null; fault: string } {
  const [told, setTold] = useState<{ answer: T | null; fault: string }>({ answer: null, fault: "" });
  const wanted = useRef<{ key: string; ask: () => Promise<T> } | null>(null);
  const asking = useRef(false);
  const now = useRef(key);
  now.current = key;
  const question = useRef(ask);
  question.current = ask;
  useEffect(() => {
    if (key === null) {
      wanted.current = null;
      setTold({ answer: null, fault: "" });
      return;
    }
    wanted.current = { key, ask: question.current };
    if (asking.current) return;
    asking.current = true;
    void (async () => {
      while (wanted.current) {
        const { ask: next }: { ask: () => Promise<T> } = wanted.current;
        wanted.current = null;
        try {
          const answer = await next();
          if (now.current !== null) setTold({ answer, fault: "" });
        } catch (error) {
          if (now.current !== null) setTold({ answer: null, fault: (error as ApiError).message });
        }
      }
      asking.current = false;
    })();
  }, [key]);
  return key === null ? { answer: null, fault: "" } : told;
}
