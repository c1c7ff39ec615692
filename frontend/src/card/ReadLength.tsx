import { useState } from "react";
import { call } from "../api/client";
import type { Along, Thumb } from "../api/types";
import { StickDial } from "../stage/dials/StickDial";
import { figure } from "../ui/locale";
import { t } from "../words";
import { Choice, Figure } from "./Figure";
import type { Card } from "./useCard";

const WAYS: { way: Along; words: string }[] = [
  { way: "across", words: t("card.readLength.straightAcross") },
  { way: "upright", words: t("card.readLength.straightUp") },
  { way: "edge", words: t("card.readLength.alongIt") },
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
        {t("card.readLength.how")}
        {signed && t("card.readLength.negativeAbove")}
      </p>
      {free && (
        <>
          <label className="name-line">
            {t("card.readLength.what")}
            <input
              className="input input-sm grow"
              maxLength={90}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </label>
          <Choice
            label={t("card.readLength.measured")}
            options={WAYS.map(({ way, words }) => ({ name: words, on: along === way, choose: () => setAlong(way) }))}
          />
        </>
      )}
      {!signed && (
        <StickDial
          label={t("card.readLength.thumbLabel")}
          value={ratio}
          most={3}
          unit={t("card.readLength.units")}
          onSlide={setRatio}
        />
      )}
      <Figure label={t("card.readLength.thumb")} value={ratio} onValue={setRatio} unit={t("card.readLength.units")} />
      {thumb && (
        <label className="big-figure">
          {t("card.readLength.orItsMark")}
          <input
            type="number"
            inputMode="decimal"
            className="input tabular-nums"
            min={0}
            value={mark}
            onChange={(event) => void fromMark(event.target.value)}
          />
          {t("card.readLength.mmOf", { value: figure(thumb.unit_mm, 0) })}
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
        {t("card.readLength.keepUnits", { value: figure(ratio, 2) })}
      </button>
    </>
  );
}
