interface ThingSelectProps<Value extends string | number> {
  label: string;
  value: Value | undefined;
  /** What is offered, each with its words. */
  of: readonly (readonly [Value, string])[];
  onValue: (value: Value) => void;
}

/** One of several, chosen beside its name. */
export function ThingSelect<Value extends string | number>({ label, value, of, onValue }: ThingSelectProps<Value>) {
  return (
    <label className="thing-select">
      {label}
      <select
        className="select select-sm"
        value={value}
        onChange={(event) => {
          const chosen = of[event.target.selectedIndex];
          if (chosen) onValue(chosen[0]);
        }}
      >
        {of.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
