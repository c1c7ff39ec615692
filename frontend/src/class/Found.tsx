import type { Piece } from "../api/types";
import { verdictOf } from "../sheet/judged";
import { VerdictWord } from "../ui/VerdictWord";
import { t } from "../words";

interface FoundProps {
  piece: Piece;
  selected: string | null;
  onSelect: (id: string) => void;
}

/** What the check or the critique found: causes first, then every line with its verdict and reason. */
export function Found({ piece, selected, onSelect }: FoundProps) {
  const { critique, report, document } = piece;
  const called = new Map((document.sightings ?? []).map((s) => [s.id, s.name || s.id]));
  const drawn = critique !== null && critique !== undefined && critique.findings.length > 0;
  const lines = drawn
    ? critique.findings.map((f) => ({ id: f.sighting, verdict: verdictOf(f), measure: false, words: f.words }))
    : report.findings.map((f) => ({
        id: f.sighting,
        verdict: f.verdict,
        measure: f.measure,
        words: [f.judged_words, f.words].filter(Boolean).join(" "),
      }));
  return (
    <div>
      {drawn && critique.causes.length > 0 && (
        <>
          <h2 className="part-head">{t("class.found.causes")}</h2>
          <ol className="mb-3">
            {critique.causes.map((cause, k) => (
              <li key={cause.words} className="mb-1 leading-snug">
                {k + 1}. <b>{cause.words}</b> {cause.advice}
              </li>
            ))}
          </ol>
        </>
      )}
      <h2 className="part-head">{drawn ? t("class.found.drawingLines") : t("class.found.everySighting")}</h2>
      {lines.length === 0 && <p>{t("class.found.nothingSighted")}</p>}
      <ul>
        {lines.map((line) => (
          <li key={line.id}>
            <button
              type="button"
              className={`drawn-line ${line.id === selected ? "drawn-chosen" : ""}`}
              onClick={() => onSelect(line.id)}
            >
              <VerdictWord of={line.verdict} measure={line.measure} /> <b>{called.get(line.id) ?? line.id}</b>{" "}
              {line.words}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
