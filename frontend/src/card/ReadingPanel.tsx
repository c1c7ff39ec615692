import { useEffect, useRef } from "react";

import type { Thumb } from "../api/types";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { StickDial } from "../stage/dials/StickDial";

import { degreesText } from "../ui/marks";
import type { What } from "./edits";
import { Figure } from "./Figure";
import { ReadAlignment } from "./ReadAlignment";
import { ReadLength } from "./ReadLength";
import { ReadRim } from "./ReadRim";
import { ReadTilt } from "./ReadTilt";
import type { Card } from "./useCard";
import type { Gauge } from "./useGauge";

const LOOK: Record<What["kind"], string> = {
  edge: "Look along the edge. Turn the needle to the tilt you see, then commit.",
  length: "Compare it with the near upright by eye: what part of it, or how many times? Then commit.",
  rim: "Look at the rim. Open the ellipse as far as you see it open, then commit.",
  alignment: "By eye: how far beside the line does it stand, in near uprights? 0 is in line.",
};

/** What is being read: the judgement first, then stick, gauge or thumb; large and under the thumb. */
export function ReadingPanel({
  card,
  gauge,
  byGauge,
  onByGauge,
  thumb,
  arm,
}: {
  card: Card;
  gauge: Gauge;
  byGauge: boolean;
  onByGauge: (on: boolean) => void;
  thumb: Thumb | null;
  arm: number | null;
}) {
  const { task } = card;
  const panel = useRef<HTMLElement>(null);
  useEffect(() => {
    if (task.kind !== "rest") panel.current?.querySelector<SVGElement>("[role=slider]")?.focus({ preventScroll: true });
  }, [task]);
  if (task.kind === "rest") return null;
  const { what } = task;
  return (
    <section
      ref={panel}
      className="reading-panel"
      aria-label={what.words}
      // also from within a field, which keeps its other keys to itself
      onKeyDown={(event) => {
        if (event.key === "Escape") card.leave();
      }}
    >
      <h2 className="reading-head">
        {what.words}
        {"again" in what && what.again && <small> once more</small>}
      </h2>
      {task.kind === "judge" ? (
        <Judge key={what.words} what={what} card={card} />
      ) : (
        <>
          {task.judged !== null && <p className="judged-line">Judged {inUnit(what.kind, task.judged)}</p>}
          {what.kind === "edge" && <ReadTilt card={card} gauge={gauge} byGauge={byGauge} onByGauge={onByGauge} />}
          {what.kind === "length" && <ReadLength card={card} thumb={thumb} arm={arm} />}
          {what.kind === "rim" && <ReadRim card={card} gauge={gauge} again={what.again !== null} />}
          {what.kind === "alignment" && <ReadAlignment card={card} plumb={what.along === "plumb"} />}
        </>
      )}
      <button type="button" className="btn btn-ghost btn-sm mt-1" onClick={card.leave}>
        Cancel (Esc)
      </button>
    </section>
  );
}

function inUnit(kind: What["kind"], value: number): string {
  return kind === "edge" || kind === "rim" ? degreesText(value) : `${value.toFixed(2)} units`;
}

/** The judgement by eye, before anything is measured. */
function Judge({ what, card }: { what: What; card: Card }) {
  const { needle, setNeedle } = card;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        card.commit();
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter" && !(event.target instanceof HTMLButtonElement)) {
          event.preventDefault();
          card.commit();
        }
      }}
    >
      <p aria-live="polite">{LOOK[what.kind]}</p>
      {what.kind === "edge" && <NeedleDial tilt={needle} onTurn={setNeedle} />}
      {what.kind === "rim" && <RimDial degree={needle} onOpen={setNeedle} />}
      {what.kind === "length" && (
        <StickDial label={`${what.words}: what you judge`} value={needle} most={3} unit="units" onSlide={setNeedle} />
      )}
      <Figure
        label="Judged"
        value={needle}
        onValue={setNeedle}
        unit={what.kind === "edge" || what.kind === "rim" ? "°" : "units"}
      />
      <button type="submit" className="btn btn-primary big-button w-full">
        Commit
      </button>
    </form>
  );
}
