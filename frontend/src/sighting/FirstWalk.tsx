import { useCallback, useEffect, useRef, useState } from "react";
import { store, stored } from "../ui/settings";
import { t } from "../words";

const KEY = "walked";
const STEPS = [
  {
    at: "area-stage",
    title: t("sighting.firstWalk.thePicture"),
    words: t("sighting.firstWalk.pictureWhat"),
  },
  {
    at: "area-slips",
    title: t("sighting.firstWalk.theSlips"),
    words: t("sighting.firstWalk.slipsWhat"),
  },
  {
    at: "area-rail",
    title: t("sighting.firstWalk.theLevelRail"),
    words: t("sighting.firstWalk.levelRailWhat"),
  },
  {
    at: "area-table",
    title: t("sighting.firstWalk.theLongTable"),
    words: t("sighting.firstWalk.longTableWhat"),
  },
];

export interface Walk {
  step: number | null;
  start: () => void;
  next: () => void;
  stop: () => void;
}

/** The first-run walk: shown once on this machine, and again on request. */
export function useFirstWalk(): Walk {
  const [step, setStep] = useState<number | null>(() => (stored(KEY) ? null : 0));
  const stop = useCallback(() => {
    store(KEY, "yes");
    setStep(null);
  }, []);
  const next = useCallback(() => {
    if (step !== null && step + 1 < STEPS.length) setStep(step + 1);
    else stop();
  }, [step, stop]);
  return { step, start: () => setStep(0), next, stop };
}

export function FirstWalk({ walk }: { walk: Walk }) {
  const card = useRef<HTMLDivElement>(null);
  const step = STEPS[walk.step ?? 0];
  const area = step?.at;
  useEffect(() => {
    const target = area ? document.querySelector(`.${area}`) : null;
    target?.classList.add("walk-lit");
    card.current?.querySelector<HTMLElement>(".btn-primary")?.focus();
    return () => target?.classList.remove("walk-lit");
  }, [area]);
  if (!step) return null;
  return (
    <div
      ref={card}
      role="dialog"
      aria-label={t("sighting.firstWalk.showMeRound", { title: step.title })}
      className={`walk-card walk-${step.at} z-40 rounded-box border border-base-300 bg-base-100 p-4 shadow-xl`}
      onKeyDown={(event) => {
        if (event.key === "Escape") {
          event.stopPropagation();
          walk.stop();
        }
      }}
    >
      <h2 className="font-bold">{step.title}</h2>
      <p className="mt-1 leading-snug">{step.words}</p>
      <div className="mt-3 flex items-center gap-2">
        <span className="text-sm tabular-nums">
          {(walk.step ?? 0) + 1} {t("sighting.firstWalk.of")} {STEPS.length}
        </span>
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={walk.stop}>
          {t("sighting.firstWalk.skip")}
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={walk.next}>
          {(walk.step ?? 0) + 1 < STEPS.length ? t("sighting.firstWalk.next") : t("sighting.firstWalk.begin")}
        </button>
      </div>
    </div>
  );
}
