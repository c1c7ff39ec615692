import { useId } from "react";

interface NumberInputProps {
  label: string;
  value: number | null;
  least: number;
  most: number;
  step: number;
  unit: string;
  /** Places after the point that are shown. */
  digits?: number;
  /** What an empty field means, where it may be empty. */
  empty?: string;
  onValue: (value: number | null) => void;
}

/** A measure that is typed: taken when the field is left or Enter is pressed; what does not fit is put back. */
export function NumberInput({ label, value, least, most, step, unit, digits = 3, empty, onValue }: NumberInputProps) {
  const id = useId();
  const shown = value === null ? "" : String(Number(value.toFixed(digits)));
  return (
    <span className="number-input">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        key={shown}
        type="number"
        className="input input-sm"
        min={least}
        max={most}
        step={step}
        placeholder={empty}
        defaultValue={shown}
        onBlur={(event) => {
          const text = event.target.value;
          const typed = text === "" ? null : Number(text);
          const fits = typed === null ? empty !== undefined : typed >= least && typed <= most;
          if (text === shown) return;
          if (fits) onValue(typed);
          else event.target.value = shown;
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <span>{unit}</span>
    </span>
  );
}
