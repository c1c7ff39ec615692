import { NumberInput } from "../ui/NumberInput";
import { type Measure, read, written } from "./fields";

/** What can be typed about a thing, a part of it, or the view. */
export function Measures<T extends object>({
  record,
  measures,
  onRecord,
}: {
  record: T;
  measures: readonly Measure[];
  onRecord: (record: T) => void;
}) {
  if (measures.length === 0) return null;
  return (
    <div className="thing-fields">
      {measures.map(({ at, label, ...limits }) => (
        <NumberInput
          key={label}
          label={label}
          value={read(record, at)}
          {...limits}
          onValue={(value) => onRecord(written(record, at, value))}
        />
      ))}
    </div>
  );
}
