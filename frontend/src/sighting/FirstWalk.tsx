import { useCallback, useEffect, useRef, useState } from "react";
import { store, stored } from "../ui/settings";
import { words } from "./words";

const say = words.firstWalk;

const KEY = "walked";
const STEPS = [
  {
    at: "area-stage",
    title: say.thePicture,
    words: say.linesLaidOnThePicture,
  },
  {
    at: "area-slips",
    title: say.theSlips,
    words: say.oneSlipForEachSighting,
  },
  {
    at: "area-rail",
    title: say.theLevelRail,
    words: say.eyeLevelWithHeightsIn,
  },
  {
    at: "area-table",
    title: say.theLongTable,
    words: say.yourSheetDrawnSmallWith,
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
      aria-label={say.showMeRound(step.title)}
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
          {(walk.step ?? 0) + 1} {say.ofWord} {STEPS.length}
        </span>
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={walk.stop}>
          {say.skip}
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={walk.next}>
          {(walk.step ?? 0) + 1 < STEPS.length ? say.next : say.begin}
        </button>
      </div>
    </div>
  );
}
