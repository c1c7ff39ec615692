import type { QuestionAsked } from "../api/types";
import { figure } from "../ui/locale";
import { degreesText, leanText } from "../ui/marks";
import { t } from "../words";

/** The answer beside the truth, and the rule that the truth follows. */
export function AnswerResult({ question }: { question: QuestionAsked }) {
  const told = question.answered;
  if (!told) return null;
  const [judged, truth] = values(question);
  return (
    <div role="status" className="drill-told">
      <p className={`drill-verdict ${told.right ? "drill-right" : "drill-off"}`}>
        <b>{told.right ? t("drill.told.withinTolerance") : t("drill.told.off")}</b> {told.words}
      </p>
      {judged !== null && (
        <dl className="drill-values">
          <div>
            <dt>
              <Swatch look="drill-judged" /> {t("drill.told.judged")}
            </dt>
            <dd>{judged}</dd>
          </div>
          <div>
            <dt>
              <Swatch look="drill-truth" /> {t("drill.told.true")}
            </dt>
            <dd>{truth}</dd>
          </div>
        </dl>
      )}
      {judged === null && (
        <p className="drill-key">
          <Swatch look="drill-judged" /> {t("drill.told.judged")} <Swatch look="drill-truth" /> {t("drill.told.true")}
        </p>
      )}
      <p className="leading-snug">{told.rule}</p>
    </div>
  );
}

/** Both as the instrument shows them; nothing for what was answered by a place. */
function values({ answered, instrument, skill, counts, choices }: QuestionAsked): [string | null, string | null] {
  if (!answered || typeof answered.answer !== "number" || answered.truth_value === null) return [null, null];
  const { answer, truth_value: truth } = answered;
  if (instrument === "choice") return [choices[answer] ?? "", choices[truth] ?? ""];
  if (instrument === "stick") {
    const written = (value: number) =>
      counts === "metres" ? `${figure(value, 2)} m` : t("drill.told.units", { value: figure(value, 2) });
    return [written(answer), written(truth)];
  }
  if (skill === "upright lean") return [leanText(answered.judged), leanText(answered.truth)];
  return [degreesText(answer), degreesText(truth)];
}

function Swatch({ look }: { look: string }) {
  return (
    <svg viewBox="0 0 26 12" className={`drill-swatch ${look}`} aria-hidden="true">
      <line x1={3} x2={23} y1={6} y2={6} className="drill-chalk" />
      <line x1={3} x2={23} y1={6} y2={6} className="drill-ink" />
    </svg>
  );
}
