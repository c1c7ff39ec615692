import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../api/client";
import { pieceQuery } from "../api/queries";
import type { Piece, RemarkIn } from "../api/types";

const KEEP_AFTER_MS = 700;

export interface OpenReview {
  piece: Piece;
  mark: string;
  word: string;
  remarks: RemarkIn[];
  busy: boolean;
  fault: string;
  setMark: (mark: string) => void;
  setWord: (word: string) => void;
  setRemarks: (remarks: RemarkIn[]) => void;
  giveBack: () => void;
  /** Keep now what is not kept yet. */
  flush: () => void;
}

interface Review {
  mark: string;
  word: string;
  remarks: RemarkIn[];
}

/** A tutor's mark, word and remarks, kept as they are written; a remark without words is not kept yet. */
export function useReview(first: Piece, tutor: boolean): OpenReview {
  const queries = useQueryClient();
  const [piece, setPiece] = useState(first);
  const [said, setSaid] = useState<Review>(() => ({
    mark: first.mark,
    word: first.word,
    remarks: first.remarks.map(({ words, sighting, at }) => ({ words, sighting: sighting ?? null, at: at ?? null })),
  }));
  const latest = useRef(said);
  const [busy, setBusy] = useState(false);
  const [fault, setFault] = useState("");
  const waiting = useRef<{ said: Review; timer: number } | null>(null);
  const line = useRef<Promise<unknown>>(Promise.resolve());

  const send = useCallback(
    (next: Review, returned: boolean) => {
      setBusy(true);
      // whoever comes back before it is answered finds what was written
      const remarks = next.remarks.map((one, n) => ({ ...one, number: n + 1 }));
      queries.setQueryData(pieceQuery(first.id).queryKey, (old) => old && { ...old, ...next, remarks });
      // one after another: an older one must not arrive after a newer
      line.current = line.current.then(async () => {
        try {
          const kept = await call("put", "/api/hand-ins/{hand_in_id}/review", {
            path: { hand_in_id: first.id },
            body: { ...next, remarks: next.remarks.filter((one) => one.words.trim()), returned },
          });
          setPiece(kept);
          setFault("");
          queries.setQueryData(pieceQuery(first.id).queryKey, kept);
          if (returned) void queries.invalidateQueries({ queryKey: ["board"] });
        } catch (error) {
          setFault((error as Error).message);
        } finally {
          setBusy(false);
        }
      });
    },
    [first.id, queries],
  );
  const flush = useCallback(() => {
    if (!waiting.current) return;
    window.clearTimeout(waiting.current.timer);
    send(waiting.current.said, false);
    waiting.current = null;
  }, [send]);
  const put = useCallback(
    (changed: Partial<Review>) => {
      if (!tutor) return;
      const next = { ...latest.current, ...changed };
      latest.current = next;
      setSaid(next);
      window.clearTimeout(waiting.current?.timer);
      waiting.current = { said: next, timer: window.setTimeout(flush, KEEP_AFTER_MS) };
    },
    [tutor, flush],
  );
  useEffect(() => flush, [flush]);
  return {
    piece,
    ...said,
    busy: busy || waiting.current !== null,
    fault,
    setMark: (mark) => put({ mark }),
    setWord: (word) => put({ word }),
    setRemarks: (remarks) => put({ remarks }),
    giveBack: () => {
      window.clearTimeout(waiting.current?.timer);
      waiting.current = null;
      send(latest.current, true);
    },
    flush,
  };
}
