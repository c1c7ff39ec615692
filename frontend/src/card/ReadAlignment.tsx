import { useState } from "react";
import { figure } from "../ui/locale";
import { t } from "../words";
import { Figure } from "./Figure";
import type { Card } from "./useCard";

/** What a plumb line, or a level one, told. */
export function ReadAlignment({ card, plumb }: { card: Card; plumb: boolean }) {
  const [first, setFirst] = useState("");
  const [second, setSecond] = useState("");
  const [beside, setBeside] = useState(0);
  return (
    <>
      <p>{t("card.readAlignment.how")}</p>
      <label className="name-line">
        {plumb ? t("card.readAlignment.upper") : t("card.readAlignment.left")}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={first}
          onChange={(e) => setFirst(e.target.value)}
        />
      </label>
      <label className="name-line">
        {plumb ? t("card.readAlignment.lower") : t("card.readAlignment.right")}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={second}
          onChange={(e) => setSecond(e.target.value)}
        />
      </label>
      <Figure
        label={plumb ? t("card.readAlignment.upperIsRightBy") : t("card.readAlignment.rightIsAboveBy")}
        value={beside}
        onValue={setBeside}
        unit={t("card.readAlignment.units")}
      />
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={Math.abs(beside) > 100}
        onClick={() => card.keepTold({ first, second, beside })}
      >
        {Math.abs(beside) < 0.005
          ? t("card.readAlignment.keepInLine")
          : t("card.readAlignment.keepUnits", { value: figure(beside, 2) })}
      </button>
    </>
  );
}
