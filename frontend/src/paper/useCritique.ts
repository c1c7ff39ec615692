import { useCallback, useEffect, useRef, useState } from "react";
import { call, OF_PHOTOS_MS } from "../api/client";
import { PAGE } from "../api/mark";
import { newest } from "../api/newest";
import type { Critique, DrawnProposal, Sheet, SinceBefore, Steadiness } from "../api/types";

/** Ask while a line still moves: one question at a time, always the newest. */
function useNewest<Q, A>(question: Q, ask: (question: Q) => Promise<A>): { answer: A | null; fault: string } {
  const [answer, setAnswer] = useState<A | null>(null);
  const [fault, setFault] = useState("");
  const [questions] = useState(newest);
  useEffect(() => {
    questions.ask(async () => {
      try {
        setAnswer(await ask(question));
        setFault("");
      } catch (error) {
        setFault((error as Error).message);
      }
    });
  }, [question, ask, questions]);
  return { answer, fault };
}

/** The critique of the drawing as it now stands. */
export function useCritique(
  subject: Sheet | null,
  drawing: Sheet,
  hand: Steadiness,
): { answer: Critique | null; fault: string } {
  const against = useRef(subject);
  const ask = useCallback(
    (now: Sheet) =>
      call("post", "/api/critique", {
        body: { subject: against.current, drawing: now, hand, page: PAGE },
        again: true,
      }),
    [hand],
  );
  return useNewest(drawing, ask);
}

/** What is not on the drawing yet, at its expected place on the pencil lines. Asked for kept changes only. */
export function useProposals(id: string, drawing: Sheet, wanted: boolean): DrawnProposal[] {
  const [found, setFound] = useState<DrawnProposal[]>([]);
  useEffect(() => {
    if (!wanted) {
      setFound([]);
      return;
    }
    let gone = false;
    const timer = window.setTimeout(() => {
      call("post", "/api/drawings/{sheet_id}/propose", {
        path: { sheet_id: id },
        body: { document: drawing },
        patience_ms: OF_PHOTOS_MS,
      })
        .then(({ proposals }) => !gone && setFound(proposals))
        .catch(() => undefined); // lines are then laid by hand
    }, 250);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
  }, [id, drawing, wanted]);
  return found;
}

/** What changed since the drawing was brought in before. */
export function useSince(id: string, drawing: Sheet, before: string | null, partly: boolean): SinceBefore | null {
  const [found, setFound] = useState<SinceBefore | null>(null);
  useEffect(() => {
    if (!before) return;
    let gone = false;
    const timer = window.setTimeout(() => {
      call("post", "/api/drawings/{sheet_id}/since", { path: { sheet_id: id }, body: { document: drawing, partly } })
        .then((answer) => !gone && setFound(answer))
        .catch(() => undefined);
    }, 300);
    return () => {
      gone = true;
      window.clearTimeout(timer);
    };
  }, [id, drawing, before, partly]);
  return found;
}
