import { useEffect, useState } from "react";
import { type ApiError, call } from "../api/client";
import { type Edge, type FanAnswer, isEdge, type Report, type Sheet, type Sighting } from "../api/types";
import { sightingsOf } from "../sheet/edits";

/** Lines between the chosen edge and a fellow of its family, as many as asked for. */
export interface FanWish {
  first: string;
  second: string;
  count: number;
}

export function useFan(sheet: Sheet, report: Report, chosen: Sighting | null) {
  const [wish, setWish] = useState<FanWish | null>(null);
  const [answer, setAnswer] = useState<FanAnswer | null>(null);
  const [fault, setFault] = useState("");
  const mine = wish && wish.first === chosen?.id ? wish : null;
  useEffect(() => {
    setFault("");
    if (!mine) return setAnswer(null);
    let stale = false;
    call("post", "/api/fan", { body: { document: sheet, ...mine }, again: true }).then(
      (found) => !stale && setAnswer(found),
      (error: ApiError) => {
        if (stale) return;
        setAnswer(null);
        setFault(error.message);
      },
    );
    return () => {
      stale = true;
    };
  }, [mine, sheet]);
  return { wish: mine, answer: mine ? answer : null, fault, show: setWish, fellows: fellowsOf(sheet, report, chosen) };
}

/** The edges that run to the same vanishing point as the chosen one. */
function fellowsOf(sheet: Sheet, report: Report, chosen: Sighting | null): Edge[] {
  const point = (id: string) => report.findings.find((f) => f.sighting === id)?.vanishing_point ?? null;
  const mine = chosen && isEdge(chosen) ? point(chosen.id) : null;
  if (mine === null) return [];
  return sightingsOf(sheet).filter(
    (s): s is Edge & Sighting => isEdge(s) && s.id !== chosen?.id && point(s.id) === mine,
  );
}
