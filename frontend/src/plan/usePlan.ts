import { useEffect, useState } from "react";
import { ApiError, call } from "../api/client";
import { PAGE } from "../api/mark";
import { newest } from "../api/newest";
import type { Plan, Sheet } from "../api/types";

/** The plan of a sheet as it stands: one question at a time, always the newest. */
export function usePlan(sheet: Sheet): { plan: Plan | null; fault: string } {
  const [plan, setPlan] = useState<Plan | null>(null);
  const [fault, setFault] = useState("");
  const [questions] = useState(newest);
  useEffect(() => {
    questions.ask(async () => {
      try {
        setPlan(await call("post", "/api/plan", { body: { document: sheet, page: PAGE }, again: true }));
        setFault("");
      } catch (error) {
        // what cannot be planned yet says so; a lost connection keeps the last plan
        if (error instanceof ApiError && error.status === 422) setPlan(null);
        setFault((error as Error).message);
      }
    });
  }, [questions, sheet]);
  return { plan, fault };
}
