import type { Verdict } from "../api/types";
import { VERDICTS } from "./marks";

/** A verdict by mark and word; nothing on what others are measured by, which is compared with nothing. */
export function VerdictWord({ of, measure = false }: { of: Verdict; measure?: boolean }) {
  if (measure) return null;
  return (
    <span className={`verdict verdict-${of}`}>
      <span aria-hidden="true">{VERDICTS[of].mark}</span> {VERDICTS[of].word}
    </span>
  );
}
