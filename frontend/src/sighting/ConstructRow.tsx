import type { Construction, PartAlong } from "../api/types";
import { t } from "../words";
import type { useMeasuring } from "./useMeasuring";

const WANTED: Record<Construction, string> = {
  centre: t("sighting.constructRow.centreAndMiddle"),
  bays: t("sighting.constructRow.equalBays"),
  repeat: t("sighting.constructRow.nextBays"),
  mirror: t("sighting.constructRow.mirroredPlace"),
};

/** What can be constructed on the chosen face, step by step, so that a hand can follow. */
export function ConstructRow({ face, measuring }: { face: string; measuring: ReturnType<typeof useMeasuring> }) {
  const { wish, changeWish, construction, turnConstruction, showSteps, constructed } = measuring;
  const { wanted, along, count, place } = wish;
  const mine = construction?.face === face ? construction : null;
  const steps = mine ? (constructed.answer?.steps ?? []) : [];
  const shown = Math.min(mine?.shown ?? 0, steps.length);
  return (
    <section
      aria-label={t("sighting.constructRow.construct")}
      className="border-t border-base-300 px-2.5 py-1.5 text-[13px] leading-snug"
    >
      <div className="flex flex-wrap items-center gap-1.5">
        <select
          className="select select-sm min-w-0 grow"
          aria-label={t("sighting.constructRow.onFace")}
          value={wanted}
          onChange={(event) => changeWish({ wanted: event.target.value as Construction })}
        >
          {Object.entries(WANTED).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        {wanted !== "centre" && (
          <select
            className="select select-sm w-22"
            aria-label={t("sighting.constructRow.counted")}
            value={along}
            onChange={(event) => changeWish({ along: event.target.value as PartAlong })}
          >
            <option value="across">{t("sighting.constructRow.across")}</option>
            <option value="up">{t("sighting.constructRow.up")}</option>
          </select>
        )}
        {(wanted === "bays" || wanted === "repeat") && (
          <input
            type="number"
            className="input input-sm w-16"
            aria-label={
              wanted === "bays" ? t("sighting.constructRow.howManyBays") : t("sighting.constructRow.moreBays")
            }
            min={wanted === "bays" ? 2 : -8}
            max={wanted === "bays" ? 12 : 8}
            value={count}
            onChange={(event) => {
              const next = Math.round(Number(event.target.value));
              if (Math.abs(next) <= 12) changeWish({ count: next });
            }}
          />
        )}
        {wanted === "mirror" && (
          <input
            type="number"
            className="input input-sm w-20"
            aria-label={t("sighting.constructRow.mirroredPart")}
            min={0}
            max={1}
            step={0.05}
            value={place}
            onChange={(event) => {
              const next = Number(event.target.value);
              if (next >= -1 && next <= 2) changeWish({ place: next });
            }}
          />
        )}
        <button
          type="button"
          className={`btn btn-sm ${mine ? "btn-primary" : ""}`}
          aria-pressed={!!mine}
          title={t("sighting.constructRow.onFaceHint")}
          onClick={() => turnConstruction(face)}
        >
          {t("sighting.constructRow.construct")}
        </button>
      </div>
      {mine && steps.length > 0 && (
        <>
          <ol className="mt-1 list-decimal pl-5" data-testid="construction-steps">
            {steps.slice(0, shown).map((step) => (
              <li key={`${step.words}-${step.strokes[0]?.p}`}>{step.words}</li>
            ))}
          </ol>
          <div className="mt-1 flex gap-1.5">
            <button type="button" className="btn btn-xs" onClick={() => showSteps(1)}>
              {t("sighting.constructRow.firstStep")}
            </button>
            <button
              type="button"
              className="btn btn-xs"
              disabled={shown >= steps.length}
              onClick={() => showSteps(shown + 1)}
            >
              {t("sighting.constructRow.nextStep")}
            </button>
          </div>
        </>
      )}
      {mine && constructed.answer?.words && <p className="mt-1">{constructed.answer.words}</p>}
      {mine && constructed.fault && (
        <p className="mt-1" role="alert">
          {constructed.fault}
        </p>
      )}
    </section>
  );
}
