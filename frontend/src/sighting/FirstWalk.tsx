import { useCallback, useEffect, useRef, useState } from "react";
import { store, stored } from "../ui/settings";

const KEY = "walked";
const STEPS = [
  {
    at: "area-stage",
    title: "The picture",
    words:
      "Lines laid on the picture are sightings. Choose one, and it is drawn on to its vanishing point; the fine line shows where it should run. Wheel or pinch to zoom, drag to move.",
  },
  {
    at: "area-slips",
    title: "The slips",
    words:
      "One slip for each sighting: what was judged by eye, what was then sighted, and what the other sightings imply. Add an edge, or Add a rim, begins a new one; judge it before you measure it.",
  },
  {
    at: "area-rail",
    title: "The level rail",
    words:
      "Eye level, with heights in units of the near upright. The small rims open as they leave eye level: that is how round a rim must look at each height. Choose a rim, and they are the rims of its form.",
  },
  {
    at: "area-table",
    title: "The long table",
    words:
      "Your sheet drawn small, with the vanishing points where they truly fall, left and right of it. Whiskers show how well the sightings fix them.",
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
      aria-label={`Show me round: ${step.title}`}
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
          {(walk.step ?? 0) + 1} of {STEPS.length}
        </span>
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={walk.stop}>
          Skip
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={walk.next}>
          {(walk.step ?? 0) + 1 < STEPS.length ? "Next" : "Begin"}
        </button>
      </div>
    </div>
  );
}
