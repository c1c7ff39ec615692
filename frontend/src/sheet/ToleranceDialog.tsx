import type { Sheet } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { SCHOOLS } from "./schools";

type Tolerance = NonNullable<Sheet["tolerance"]>;
type Own = Exclude<Tolerance, string>;

const FIELDS: { key: keyof Own; name: string; unit: string }[] = [
  { key: "tilt_deg", name: t("sheet.toleranceDialog.tiltsTo"), unit: "°" },
  { key: "length_percent", name: t("sheet.toleranceDialog.lengthsTo"), unit: "%" },
  { key: "degree_deg", name: t("sheet.toleranceDialog.ellipseDegreesTo"), unit: "°" },
];

interface ToleranceDialogProps {
  tolerance: Tolerance;
  /** The numbers that the sheet is judged by. */
  used: Own;
  onTolerance: (tolerance: Tolerance) => void;
  onClose: () => void;
}

/** How far a sighting may stray and still hold; kept with the sheet. */
export function ToleranceDialog({ tolerance, used, onTolerance, onClose }: ToleranceDialogProps) {
  const own = typeof tolerance === "string" ? null : tolerance;
  return (
    <Dialog title={t("sheet.toleranceDialog.tolerance")} onClose={onClose}>
      <p className="mb-3">{t("sheet.toleranceDialog.what")}</p>
      <fieldset className="flex flex-col gap-2">
        <legend className="sr-only">{t("sheet.toleranceDialog.tolerance")}</legend>
        {SCHOOLS.map((school) => (
          <Tick key={school} group="tolerance" checked={tolerance === school} onTick={() => onTolerance(school)}>
            {t(`sheet.toleranceDialog.${school}`)}
          </Tick>
        ))}
        <Tick group="tolerance" checked={!!own} onTick={() => onTolerance(used)}>
          {t("sheet.toleranceDialog.ownNumbers")}
        </Tick>
      </fieldset>
      {!own && (
        <p className="mt-3 tabular-nums">
          {FIELDS.map(({ key, name, unit }) => `${name} ${used[key]} ${unit}`.replace(" °", "°")).join(", ")}
        </p>
      )}
      {own && <OwnNumbers own={own} onOwn={onTolerance} />}
    </Dialog>
  );
}

function OwnNumbers({ own, onOwn }: { own: Own; onOwn: (own: Own) => void }) {
  return (
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
              if (value > 0 && value < 90) onOwn({ ...own, [key]: value });
            }}
          />
          {unit}
        </label>
      ))}
    </div>
  );
}
