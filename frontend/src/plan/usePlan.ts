import { useEffect, useRef, useState } from "react";
import { ApiError, call } from "../api/client";
import type { Plan, Sheet } from "../api/types";

/** The plan of a sheet as it stands: one question at a time, always the newest. */
export function usePlan(sheet: Sheet): { plan: Plan | null; fault: string } {
  const [plan, setPlan] = useState<Plan | null>(null);
  const [fault, setFault] = useState("");
  const asking = useRef(false);
  const question = useRef<Sheet | null>(null);
  useEffect(() => {
    let gone = false;
    question.current = sheet;
    const ask = async () => {
      if (asking.current) return;
      asking.current = true;
      while (question.current) {
        const document = question.current;
        question.current = null;
        try {
          const found = await call("post", "/api/plan", { body: { document } });
          if (gone) continue;
          setPlan(found);
          setFault("");
        } catch (error) {
          if (gone) continue;
          // what cannot be planned yet says so; a lost connection keeps the last plan
          if (error instanceof ApiError && error.status === 422) setPlan(null);
          setFault((error as Error).message);
        }
      }
      asking.current = false;
    };
    void ask();
    return () => {
      gone = true;
      asking.current = false;
    };
  }, [sheet]);
  return { plan, fault };
}
