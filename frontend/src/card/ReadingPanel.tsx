import { useEffect, useRef } from "react";
import type { Thumb } from "../api/types";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { StickDial } from "../stage/dials/StickDial";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { t } from "../words";
import type { What } from "./edits";
import { Figure } from "./Figure";
import { ReadAlignment } from "./ReadAlignment";
import { ReadLength } from "./ReadLength";
import { ReadRim } from "./ReadRim";
import { ReadTilt } from "./ReadTilt";
import type { Card } from "./useCard";
import type { Gauge } from "./useGauge";

const LOOK: Record<What["kind"], string> = {
  edge: t("card.readingPanel.judgeTilt"),
  length: t("card.readingPanel.judgeLength"),
  rim: t("card.readingPanel.judgeRim"),
  alignment: t("card.readingPanel.judgeAlignment"),
};

interface ReadingPanelProps {
  card: Card;
  gauge: Gauge;
  byGauge: boolean;
  onByGauge: (on: boolean) => void;
  thumb: Thumb | null;
  arm: number | null;
}

/** What is being read: the judgement first, then stick, gauge or thumb; large and under the thumb. */
export function ReadingPanel({ card, gauge, byGauge, onByGauge, thumb, arm }: ReadingPanelProps) {
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
        {"again" in what && what.again && <small> {t("card.readingPanel.onceMore")}</small>}
      </h2>
      {task.kind === "judge" ? (
        <Judge key={what.words} what={what} card={card} />
      ) : (
        <>
          {task.judged !== null && (
            <p className="judged-line">{t("card.readingPanel.judged", { figure: inUnit(what.kind, task.judged) })}</p>
          )}
          {what.kind === "edge" && <ReadTilt card={card} gauge={gauge} byGauge={byGauge} onByGauge={onByGauge} />}
          {what.kind === "length" && <ReadLength card={card} thumb={thumb} arm={arm} />}
          {what.kind === "rim" && <ReadRim card={card} gauge={gauge} again={what.again !== null} />}
          {what.kind === "alignment" && <ReadAlignment card={card} plumb={what.along === "plumb"} />}
        </>
      )}
      <button type="button" className="btn btn-ghost btn-sm mt-1" onClick={card.leave}>
        {t("card.readingPanel.cancelEsc")}
      </button>
    </section>
  );
}

function inUnit(kind: What["kind"], value: number): string {
  return kind === "edge" || kind === "rim"
    ? degreesText(value)
    : t("card.readingPanel.units", { value: figure(value, 2) });
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
        <StickDial
          label={t("card.readingPanel.whatYouJudge", { words: what.words })}
          value={needle}
          most={3}
          unit={t("card.readingPanel.unitsLabel")}
          onSlide={setNeedle}
        />
      )}
      <Figure
        label={t("card.readingPanel.judgedTitle")}
        value={needle}
        onValue={setNeedle}
        unit={what.kind === "edge" || what.kind === "rim" ? "°" : t("card.readingPanel.unitsLabel")}
      />
      <button type="submit" className="btn btn-primary big-button w-full">
        {t("card.readingPanel.commit")}
      </button>
    </form>
  );
}
