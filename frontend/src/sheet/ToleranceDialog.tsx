import type { Sheet } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { words } from "./words";

const say = words.toleranceDialog;

type Tolerance = NonNullable<Sheet["tolerance"]>;
type Own = Exclude<Tolerance, string>;

const SCHOOLS = { freehand: "Freehand", ruled: "Ruled" };
const FIELDS: { key: keyof Own; name: string; unit: string }[] = [
  { key: "tilt_deg", name: say.tiltsTo, unit: "°" },
  { key: "length_percent", name: say.lengthsTo, unit: "%" },
  { key: "degree_deg", name: say.ellipseDegreesTo, unit: "°" },
];

/** How far a sighting may stray and still hold; kept with the sheet. */
export function ToleranceDialog({
  tolerance,
  used,
  onTolerance,
  onClose,
}: {
  tolerance: Tolerance;
  /** The numbers that the sheet is judged by. */
  used: Own;
  onTolerance: (tolerance: Tolerance) => void;
  onClose: () => void;
}) {
  const own = typeof tolerance === "string" ? null : tolerance;
  return (
    <Dialog title={say.tolerance} onClose={onClose}>
      <p className="mb-3">{say.howFarASightingMay}</p>
      <fieldset className="flex flex-col gap-2">
        <legend className="sr-only">{say.tolerance}</legend>
        {(Object.keys(SCHOOLS) as (keyof typeof SCHOOLS)[]).map((school) => (
          <label key={school} className="flex items-center gap-2">
            <input
              type="radio"
              name="tolerance"
              className="radio radio-sm"
              checked={tolerance === school}
              onChange={() => onTolerance(school)}
            />
            {SCHOOLS[school]}
          </label>
        ))}
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name="tolerance"
            className="radio radio-sm"
            checked={!!own}
            onChange={() => onTolerance(used)}
          />
          {say.ownNumbers}
        </label>
      </fieldset>
      {!own && (
        <p className="mt-3 tabular-nums">
          {FIELDS.map(({ key, name, unit }) => `${name} ${used[key]} ${unit}`.replace(" °", "°")).join(", ")}
        </p>
      )}
      {own && (
        <div className="mt-3 flex flex-wrap gap-4">
          {FIELDS.map(({ key, name, unit }) => (
            <label key={key} className="flex items-center gap-2">
              {name}
              <input
                type="number"
                className="input input-sm w-20"
                min={0.5}
                max={45}
                step={0.5}
                value={own[key]}
                onChange={(event) => {
                  const value = Number(event.target.value);
                  if (value > 0 && value < 90) onTolerance({ ...own, [key]: value });
                }}
              />
              {unit}
            </label>
          ))}
        </div>
      )}
    </Dialog>
  );
}
