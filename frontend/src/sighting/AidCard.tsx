import { type Sheet, twoEnds } from "../api/types";
import { addAlignment, addHeight, sightingsOf } from "../sheet/edits";
import { t } from "../words";
import type { useMeasuring } from "./useMeasuring";

interface AidCardProps {
  sheet: Sheet;
  /** Whether a height is being laid, or was just chosen. */
  tall: boolean;
  measuring: ReturnType<typeof useMeasuring>;
  onChange: (made: { sheet: Sheet; id?: string }) => void;
}

/** What the plumb or level line passes through, or how eye level cuts the figure, with what can be kept of it; and how high the eye is, where heights
 * wait to be told.
 */
export function AidCard({ sheet, measuring, tall, onChange }: AidCardProps) {
  const { guide, held, setGuide, figure, stood, setFigure } = measuring;
  const passed = held.answer?.passed ?? [];
  const [first, last] = [passed[0], passed[passed.length - 1]];
  const keepable = first && last && first !== last && !sameSighting(sheet, first.sighting, last.sighting);
  const top = stood.answer?.top;
  const known = sightingsOf(sheet).some((s) => s.kind === "height" && s.known_m);
  const asked = tall && !figure && !sheet.eye_height_m && !known;
  const eye = (
    <MetresInput
      label={t("sighting.aidCard.eyeHeightAboveGround")}
      value={sheet.eye_height_m ?? null}
      onValue={(eye_height_m) => onChange({ sheet: { ...sheet, eye_height_m } })}
    />
  );
  if (!guide && !figure && !asked) return null;
  return (
    <div className="aid-cards">
      {guide && (
        <section
          className="aid-card"
          aria-label={guide.along === "plumb" ? t("sighting.aidCard.plumbLine") : t("sighting.aidCard.levelLine")}
        >
          <p data-testid="guide-words" aria-live="polite">
            <b>{guide.along === "plumb" ? t("sighting.aidCard.plumbLineSaid") : t("sighting.aidCard.levelLineSaid")}</b>{" "}
            {held.answer?.words ?? held.fault}
          </p>
          <div className="mt-1 flex gap-1.5">
            <button
              type="button"
              className="btn btn-xs"
              disabled={!keepable}
              onClick={() => first && last && onChange(addAlignment(sheet, guide.along, first.at, last.at))}
            >
              {t("sighting.aidCard.keepAlignment")}
            </button>
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => setGuide(null)}>
              {t("sighting.aidCard.putAway")}
            </button>
          </div>
        </section>
      )}
      {asked && (
        <section className="aid-card" aria-label={t("sighting.aidCard.eyeHeight")}>
          <p>{t("sighting.aidCard.eyeHeightWhat")}</p>
          <p className="mt-1 flex items-center gap-1">
            {t("sighting.aidCard.eye")} {eye} m
          </p>
        </section>
      )}
      {figure && (
        <section className="aid-card" aria-label={t("sighting.aidCard.figure")}>
          <div className="flex flex-wrap items-center gap-2">
            <span className="flex items-center gap-1">
              {t("sighting.aidCard.figure")}
              <MetresInput
                label={t("sighting.aidCard.figureHeight")}
                value={figure.height_m}
                onValue={(height_m) => height_m && setFigure({ ...figure, height_m })}
              />
              m
            </span>
            <span className="flex items-center gap-1">
              {t("sighting.aidCard.eye")}
              {eye} m
            </span>
            <button
              type="button"
              className="btn btn-xs"
              title={t("sighting.aidCard.eyeAsHigh")}
              onClick={() => onChange({ sheet: { ...sheet, eye_height_m: figure.height_m } })}
            >
              {t("sighting.aidCard.headAtEyeLevel")}
            </button>
          </div>
          <p className="mt-1" data-testid="figure-words" aria-live="polite">
            {stood.answer?.words ?? stood.fault}
          </p>
          <div className="mt-1 flex gap-1.5">
            <button
              type="button"
              className="btn btn-xs"
              disabled={!top}
              onClick={() => top && onChange(addHeight(sheet, figure.foot, top, { known_m: figure.height_m }))}
            >
              {t("sighting.aidCard.keepHeight")}
            </button>
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => setFigure(null)}>
              {t("sighting.aidCard.putAway")}
            </button>
          </div>
        </section>
      )}
    </div>
  );
}

/** Whether two ends belong to one thing, so that a line through both says nothing. */
function sameSighting(sheet: Sheet, a: string, b: string): boolean {
  const sighting = sightingsOf(sheet).find((s) => s.id === a);
  return a === b && !!sighting && !!twoEnds(sighting);
}

interface MetresInputProps {
  label: string;
  value: number | null;
  onValue: (metres: number | null) => void;
}

/** A height in metres, or nothing. */
export function MetresInput({ label, value, onValue }: MetresInputProps) {
  return (
    <input
      type="number"
      className="input input-sm w-19 tabular-nums"
      aria-label={label}
      min={0.01}
      step={0.05}
      defaultValue={value ?? ""}
      key={value}
      onBlur={(event) => {
        const typed = event.target.value === "" ? null : Number(event.target.value);
        if (typed !== value && (typed === null || (typed > 0 && typed <= 10_000))) onValue(typed);
      }}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
