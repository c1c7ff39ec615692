import type { PieceFound } from "../api/types";
import { VERDICTS } from "../ui/marks";

/** Verdict marks counted, each with its word for who does not see the mark. */
export function Counts({ found }: { found: PieceFound }) {
  return (
    <span className="counts">
      {(["holds", "off", "unsure"] as const).map((verdict) => (
        <span key={verdict} className={verdict === "off" && found.off > 0 ? "count-off" : undefined}>
          <span aria-hidden="true">{VERDICTS[verdict].mark} </span>
          {found[verdict]}
          <span className="sr-only"> {VERDICTS[verdict].word}</span>
        </span>
      ))}
    </span>
  );
}
