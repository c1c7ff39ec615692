import { useState } from "react";
import { Figure } from "./Figure";
import type { Card } from "./useCard";

/** What a plumb line, or a level one, told. */
export function ReadAlignment({ card, plumb }: { card: Card; plumb: boolean }) {
  const [first, setFirst] = useState("");
  const [second, setSecond] = useState("");
  const [beside, setBeside] = useState(0);
  return (
    <>
      <p>Hold up a plumb line, or a level one: what does it say?</p>
      <label className="name-line">
        {plumb ? "Upper" : "Left"}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={first}
          onChange={(e) => setFirst(e.target.value)}
        />
      </label>
      <label className="name-line">
        {plumb ? "Lower" : "Right"}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={second}
          onChange={(e) => setSecond(e.target.value)}
        />
      </label>
      <Figure
        label={plumb ? "The upper stands to the right by" : "The right one stands above by"}
        value={beside}
        onValue={setBeside}
        unit="units"
      />
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={Math.abs(beside) > 100}
        onClick={() => card.keepTold({ first, second, beside })}
      >
        {Math.abs(beside) < 0.005 ? "Keep: in line" : `Keep ${beside.toFixed(2)} units`}
      </button>
    </>
  );
}
