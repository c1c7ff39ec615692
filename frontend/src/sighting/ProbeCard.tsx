import type { ProbeAnswer, Sheet } from "../api/types";
import { formsOf } from "../sheet/edits";
import { toScreen, type View } from "../stage/geometry";
import { figure } from "../ui/locale";
import { degreesText, FAMILIES, leanText } from "../ui/marks";
import { t } from "../words";
import type { Probe } from "./useProbe";

const WIDTH = 190;

interface ProbeCardProps {
  probe: Probe;
  sheet: Sheet;
  view: View;
  stage: { width: number; height: number };
}

/** What the probe says, in figures, beside the place that it is held at. */
export function ProbeCard({ probe, sheet, view, stage }: ProbeCardProps) {
  const [x, y] = toScreen(view, probe.at);
  const { runs, rim } = probe.answer;
  const left = x + 70 + WIDTH < stage.width ? x + 70 : x - 70 - WIDTH;
  const top = Math.max(8, Math.min(y - 30, stage.height - 40 - 24 * (runs.length + 1)));
  return (
    <section
      className="probe-card"
      style={{ left, top, width: WIDTH }}
      aria-label={t("sighting.probeCard.probe")}
      data-testid="probe"
    >
      {runs.length === 0 && !rim && <p>{t("sighting.probeCard.nothingYet")}</p>}
      {runs.map((run) => (
        <p key={`${run.form}-${run.family}-${run.slope}`} className="flex items-baseline gap-2 tabular-nums">
          <b>{FAMILIES[run.family].letter}</b>
          <span className="whitespace-nowrap">
            {runText(run)}
            {run.sd_deg !== null && <span className="text-xs"> ±{figure(run.sd_deg, 1)}</span>}
          </span>
          <span className="ml-auto truncate text-xs">
            {run.slope ?? formsOf(sheet).find((form) => form.id === run.form)?.name}
          </span>
        </p>
      ))}
      {rim && (
        <p className="flex items-baseline gap-2 tabular-nums">
          <b>◯</b>
          <span className="whitespace-nowrap">
            {figure(rim.degree_deg, 1)}°
            {rim.sd_deg !== null && <span className="text-xs"> ±{figure(rim.sd_deg, 1)}</span>}
          </span>
          <span className="ml-auto text-xs">{t("sighting.probeCard.aLevelRim")}</span>
        </p>
      )}
    </section>
  );
}

/** Of the families that run there, those of the form in hand and the uprights; all, where it has none. */
export function ofForm(answer: ProbeAnswer, form: string): ProbeAnswer {
  const mine = answer.runs.filter((run) => run.form === form);
  return mine.length
    ? { ...answer, runs: answer.runs.filter((run) => run.form === null || run.form === form) }
    : answer;
}

function runText({ tilt_deg, lean_deg }: ProbeAnswer["runs"][number]): string {
  return lean_deg === null ? degreesText(tilt_deg) : leanText(lean_deg);
}

/** The same for those who do not see it. */
export function probeWords({ runs, rim }: ProbeAnswer): string {
  const lines = runs.map((run) => `${run.family} ${runText(run)}`);
  if (rim) lines.push(t("sighting.probeCard.levelRimOpens", { value: figure(rim.degree_deg, 1) }));
  return lines.length ? t("sighting.probeCard.here", { join: lines.join(", ") }) : t("sighting.probeCard.nothingYet");
}
