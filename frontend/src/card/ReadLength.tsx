import { useState } from "react";
import { call } from "../api/client";
import type { Along, Thumb } from "../api/types";
import { StickDial } from "../stage/dials/StickDial";
import { figure } from "../ui/locale";
import { Choice, Figure } from "./Figure";
import type { Card } from "./useCard";
import { words } from "./words";

const say = words.readLength;

const WAYS: { way: Along; words: string }[] = [
  { way: "across", words: say.straightAcross },
  { way: "upright", words: say.straightUp },
  { way: "edge", words: say.alongIt },
];

/** A length by the thumb: as a part of the unit, or by its mark on the stick. */
export function ReadLength({ card, thumb, arm }: { card: Card; thumb: Thumb | null; arm: number | null }) {
  const [ratio, setRatio] = useState(1);
  const [mark, setMark] = useState("");
  const [fault, setFault] = useState("");
  const [name, setName] = useState("");
  const [along, setAlong] = useState<Along>("across");
  const { task } = card;
  const free = task.kind === "read" && task.what.kind === "length" && task.what.slot.of === null && !task.what.again;
  const signed = card.task.kind === "read" && card.task.what.kind === "length" && card.task.what.slot.of === "top";
  const fromMark = async (text: string) => {
    setMark(text);
    setFault("");
    const mm = Number(text);
    if (!thumb || !(mm > 0)) return;
    try {
      const told = await call("post", "/api/thumb", { body: { mark_mm: mm, unit_mm: thumb.unit_mm, arm_mm: arm } });
      if (told.units) setRatio(told.units.value);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <>
      <p>
        {say.armStraightMarkTheNear}
        {signed && say.negativeIfItsTopStands}
      </p>
      {free && (
        <>
          <label className="name-line">
            {say.what}
            <input
              className="input input-sm grow"
              maxLength={90}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </label>
          <Choice
            label={say.measured}
            options={WAYS.map(({ way, words }) => ({ name: words, on: along === way, choose: () => setAlong(way) }))}
          />
        </>
      )}
      {!signed && (
        <StickDial label={say.thumbPartsOfTheUnit} value={ratio} most={3} unit={say.units} onSlide={setRatio} />
      )}
      <Figure label={say.thumb} value={ratio} onValue={setRatio} unit={say.units} />
      {thumb && (
        <label className="big-figure">
          {say.orItsMark}
          <input
            type="number"
            inputMode="decimal"
            className="input tabular-nums"
            min={0}
            value={mark}
            onChange={(event) => void fromMark(event.target.value)}
          />
          {say.mmOf(figure(thumb.unit_mm, 0))}
        </label>
      )}
      {fault && (
        <p role="alert" className="font-semibold text-error">
          {fault}
        </p>
      )}
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={!signed && !(ratio > 0)}
        onClick={() => card.keepRead({ value: ratio, with: "stick", ...(free ? { name, along } : {}) })}
      >
        {say.keepUnits(figure(ratio, 2))}
      </button>
    </>
  );
}
