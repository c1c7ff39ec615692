import { useState } from "react";
import { figure } from "../ui/locale";
import { Figure } from "./Figure";
import type { Card } from "./useCard";
import { words } from "./words";

const say = words.readAlignment;

/** What a plumb line, or a level one, told. */
export function ReadAlignment({ card, plumb }: { card: Card; plumb: boolean }) {
  const [first, setFirst] = useState("");
  const [second, setSecond] = useState("");
  const [beside, setBeside] = useState(0);
  return (
    <>
      <p>{say.holdUpAPlumbLine}</p>
      <label className="name-line">
        {plumb ? say.upper : say.left}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={first}
          onChange={(e) => setFirst(e.target.value)}
        />
      </label>
      <label className="name-line">
        {plumb ? say.lower : say.right}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={second}
          onChange={(e) => setSecond(e.target.value)}
        />
      </label>
      <Figure
        label={plumb ? say.theUpperStandsToThe : say.theRightOneStandsAbove}
        value={beside}
        onValue={setBeside}
        unit={say.units}
      />
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={Math.abs(beside) > 100}
        onClick={() => card.keepTold({ first, second, beside })}
      >
        {Math.abs(beside) < 0.005 ? say.keepInLine : say.keepUnits(figure(beside, 2))}
      </button>
    </>
  );
}
