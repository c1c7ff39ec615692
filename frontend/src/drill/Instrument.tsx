import { t } from "../words";
import "./drill.css";
import { useEffect, useRef } from "react";
import type { QuestionAsked } from "../api/types";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { StickDial } from "../stage/dials/StickDial";
import { NumberInput } from "../ui/NumberInput";
import type { Hand } from "./hand";

const FIELDS = {
  needle: { label: t("drill.instrument.tilt"), unit: "°", least: -90, most: 90, step: 0.5 },
  ellipse: { label: t("drill.instrument.degree"), unit: "°", least: 0, most: 90, step: 0.5 },
  stick: { label: t("drill.instrument.length"), unit: "", least: 0.01, most: 100, step: 0.01 },
} as const;

interface InstrumentProps {
  question: QuestionAsked;
  hand: Hand;
  onHand: (hand: Hand) => void;
  onChoose: (n: number) => void;
}

/** What the answer is given with, beside the picture. */
export function Instrument({ question, hand, onHand, onChoose }: InstrumentProps) {
  const panel = useRef<HTMLDivElement>(null);
  const { id, instrument } = question;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each question takes the focus to its own instrument
  useEffect(() => {
    panel.current?.querySelector<SVGElement>("[role=slider]")?.focus({ preventScroll: true });
  }, [id, instrument]);
  const turn = (value: number) => onHand({ ...hand, value });
  if (instrument === "choice") return <Choices choices={question.choices} onChoose={onChoose} />;
  if (instrument === "point" || instrument === "level")
    return (
      <p className="text-sm">
        {instrument === "point"
          ? hand.point
            ? t("drill.instrument.dragPoint")
            : t("drill.instrument.pointAtPlace")
          : t("drill.instrument.dragLine")}
      </p>
    );
  const field = FIELDS[instrument];
  const metres = question.counts === "metres";
  return (
    <div ref={panel}>
      {instrument === "needle" && <NeedleDial tilt={hand.value} onTurn={turn} />}
      {instrument === "ellipse" && <RimDial degree={hand.value} onOpen={turn} />}
      {instrument === "stick" && (
        <StickDial
          label={t("drill.instrument.stick")}
          value={hand.value}
          most={question.most ?? 3}
          unit={metres ? t("drill.instrument.metres") : t("drill.instrument.units")}
          onSlide={turn}
        />
      )}
      <NumberInput
        label={metres ? t("drill.instrument.height") : field.label}
        value={hand.value}
        least={field.least}
        most={field.most}
        step={field.step}
        unit={instrument === "stick" ? (metres ? "m" : t("drill.instrument.units")) : field.unit}
        onValue={(value) => value !== null && turn(value)}
      />
    </div>
  );
}

interface ChoicesProps extends Pick<InstrumentProps, "onChoose"> {
  choices: InstrumentProps["question"]["choices"];
}

function Choices({ choices, onChoose }: ChoicesProps) {
  return (
    <div className="drill-choices" role="group" aria-label={t("drill.instrument.choices")}>
      {choices.map((letter, n) => (
        <button key={letter} type="button" className="btn btn-lg" onClick={() => onChoose(n)}>
          {letter}
        </button>
      ))}
    </div>
  );
}
