import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../api/client";
import type { QuestionAsked } from "../api/types";
import { firstHand, given, type Hand, isReady } from "../drill/hand";

async function nextOf(set: string): Promise<QuestionAsked | null> {
  const { question } = await call("post", "/api/practice/sets/{set_id}/next", { path: { set_id: set } });
  // its picture comes while the last answer is read
  if (question) new Image().src = question.picture;
  return question ?? null;
}

export interface OpenSet {
  question: QuestionAsked | null;
  hand: Hand;
  setHand: (hand: Hand) => void;
  over: boolean;
  busy: boolean;
  fault: Error | null;
  /** Commits, or goes on to the next question. */
  on: (hand?: Hand) => void;
  again: () => void;
}

/** A set of questions, one at a time; the next one is fetched as soon as the last is answered. */
export function useSet(set: string): OpenSet {
  const [question, setQuestion] = useState<QuestionAsked | null>(null);
  const [hand, setHand] = useState<Hand>({ value: 0, point: null });
  const [over, setOver] = useState(false);
  const [busy, setBusy] = useState(true);
  const [fault, setFault] = useState<Error | null>(null);
  const ahead = useRef<Promise<QuestionAsked | null> | null>(null);
  const shownAt = useRef(0);
  const working = useRef(false);

  const show = useCallback(async () => {
    setBusy(true);
    setFault(null);
    try {
      const next = await (ahead.current ?? nextOf(set));
      ahead.current = null;
      if (next) setHand(firstHand(next));
      setQuestion(next);
      setOver(next === null);
      shownAt.current = performance.now();
    } catch (error) {
      ahead.current = null;
      setFault(error as Error);
    } finally {
      setBusy(false);
    }
  }, [set]);

  useEffect(() => {
    ahead.current = null;
    void show();
  }, [show]);

  const commit = useCallback(
    async (asked: QuestionAsked, held: Hand) => {
      setBusy(true);
      setFault(null);
      try {
        const answered = await call("post", "/api/practice/questions/{question_id}/answer", {
          path: { question_id: asked.id },
          body: {
            ...given(asked, held),
            seconds: Math.min(86_400, (performance.now() - shownAt.current) / 1000),
          },
        });
        setQuestion(answered);
        ahead.current = nextOf(set);
        ahead.current.catch(() => undefined); // told when it is asked for
      } catch (error) {
        setFault(error as Error);
      } finally {
        setBusy(false);
      }
    },
    [set],
  );

  const on = useCallback(
    (other?: Hand) => {
      const held = other ?? hand;
      if (!question || working.current) return;
      if (!question.answered && !isReady(question, held)) return;
      working.current = true;
      const done = question.answered ? show() : commit(question, held);
      void done.finally(() => {
        working.current = false;
      });
    },
    [question, hand, show, commit],
  );
  return { question, hand, setHand, over, busy, fault, on, again: () => void show() };
}
