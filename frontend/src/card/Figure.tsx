import { useState } from "react";

interface FigureProps {
  label: string;
  value: number;
  onValue: (value: number) => void;
  unit: string;
  step?: number;
}

/** A figure large enough for a thumb. */
export function Figure({ label, value, onValue, unit, step = unit === "°" ? 0.5 : 0.01 }: FigureProps) {
  const [text, setText] = useState<string | null>(null);
  return (
    <label className="big-figure">
      {label}
      <input
        type="number"
        inputMode="decimal"
        aria-label={label}
        className="input tabular-nums"
        step={step}
        value={text ?? String(Math.round(value * 1000) / 1000)}
        onChange={(event) => {
          setText(event.target.value);
          const number = Number(event.target.value);
          if (event.target.value !== "" && Number.isFinite(number)) onValue(number);
        }}
        onBlur={() => setText(null)}
      />
      {unit}
    </label>
  );
}

interface ChoiceProps {
  label: string;
  options: { name: string; on: boolean; choose: () => void }[];
}

/** One of a few ways, under the thumb. */
export function Choice({ label, options }: ChoiceProps) {
  return (
    <fieldset className="choice" aria-label={label}>
      {options.map(({ name, on, choose }) => (
        <button key={name} type="button" className={`btn ${on ? "choice-on" : ""}`} aria-pressed={on} onClick={choose}>
          {name}
        </button>
      ))}
    </fieldset>
  );
}
