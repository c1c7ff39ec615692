import type { Family, FormSize, Point } from "../api/types";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { t } from "../words";
import type { useMeasuring } from "./useMeasuring";

const FARTHEST = 6;

interface FormCardProps {
  form: string;
  /** None for a form of rims and sides alone. */
  size: FormSize | null;
  name: string;
  /** What a sighting is called. */
  called: (id: string) => string;
  measuring: ReturnType<typeof useMeasuring>;
}

/** A form's true proportions beside a small exact drawing of its box, and the form as from further away. */
export function FormCard({ form, size, name, called, measuring }: FormCardProps) {
  const { easing, setEasing, eased } = measuring;
  const mine = easing?.form === form ? easing : null;
  const told = size ? Object.values(size.size).filter((value) => value !== null).length : 0;
  return (
    <details
      className="form-card"
      data-testid={`form-${form}`}
      onToggle={(event) => {
        const opened = event.currentTarget.open;
        setEasing((old) => (opened ? { form, times: 1 } : old?.form === form ? null : old));
      }}
    >
      <summary className="cursor-pointer">
        {size ? (
          <>
            {t("sighting.formCard.trueProportions")} <span className="tabular-nums">{briefly(size)}</span>
          </>
        ) : (
          t("sighting.formCard.tiltsAndDegrees")
        )}
      </summary>
      {size && (
        <div className="mt-1 flex items-start gap-2">
          {told === 3 && <BoxDrawing size={size} />}
          <ul className="grow leading-snug tabular-nums">
            {size.words.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      )}
      {(told > 0 || !size) && (
        <label className="mt-1.5 flex items-center gap-2">
          <span className="whitespace-nowrap">{t("sighting.formCard.seenFrom")}</span>
          <input
            type="range"
            className="range range-xs grow"
            aria-label={t("sighting.formCard.fromFurther", { name })}
            min={1}
            max={FARTHEST}
            step={0.25}
            value={mine?.times ?? 1}
            onChange={(event) => {
              const times = Number(event.target.value);
              setEasing({ form, times });
            }}
          />
          <span className="w-16 whitespace-nowrap tabular-nums">
            {mine && mine.times > 1 ? t("sighting.formCard.asFar", { times: mine.times }) : t("sighting.formCard.here")}
          </span>
        </label>
      )}
      {mine && mine.times > 1 && eased.fault && <p role="alert">{eased.fault}</p>}
      {mine && eased.answer && (
        <table className="mt-1 w-full tabular-nums" data-testid="eased-tilts">
          <thead>
            <tr className="text-left">
              <th scope="col">{t("sighting.formCard.edgeOrRim")}</th>
              <th scope="col">{t("sighting.formCard.fromHere")}</th>
              {mine.times > 1 && <th scope="col">{t("sighting.formCard.eased")}</th>}
            </tr>
          </thead>
          <tbody>
            {eased.answer.rims.map((rim) => (
              <tr key={rim.id}>
                <td>{called(rim.id)}</td>
                <td>◯ {degreesText(rim.degree_deg)}</td>
                {mine.times > 1 && <td>◯ {degreesText(rim.eased_degree_deg)}</td>}
              </tr>
            ))}
            {eased.answer.lines.map((line) => (
              <tr key={line.id}>
                <td>{called(line.id)}</td>
                <td>{degreesText(line.tilt_deg)}</td>
                {mine.times > 1 && <td>{degreesText(line.eased_tilt_deg)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}

function briefly(size: FormSize): string {
  const sides = Object.values(size.size).map((value) => (value === null ? "–" : figure(value, 2)));
  return sides.join(" : ");
}

/** The box in isometric projection, which draws all three of its sides to one scale. */
function BoxDrawing({ size }: { size: FormSize }) {
  const [right = 1, left = 1, up = 1] = Object.keys(size.size).map((family) => size.size[family as Family] ?? 1);
  const [cos, sin] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
  const at = (x: number, y: number, z: number): Point => [(x - y) * cos, -(x + y) * sin - z];
  const corners = [0, right].flatMap((x) => [0, left].flatMap((y) => [0, up].map((z) => at(x, y, z))));
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  const [x0, y0] = [Math.min(...xs), Math.min(...ys)];
  const [wide, high] = [Math.max(...xs) - x0, Math.max(...ys) - y0];
  const k = 72 / Math.max(wide, high);
  const face = (...points: Point[]) =>
    `M${points.map(([x, y]) => `${((x - x0) * k + 4).toFixed(1)} ${((y - y0) * k + 4).toFixed(1)}`).join("L")}Z`;
  return (
    <svg viewBox={`0 0 ${wide * k + 8} ${high * k + 8}`} width={wide * k + 8} className="shrink-0" aria-hidden="true">
      <path d={face(at(0, 0, 0), at(right, 0, 0), at(right, 0, up), at(0, 0, up))} className="box-side" />
      <path d={face(at(0, 0, 0), at(0, left, 0), at(0, left, up), at(0, 0, up))} className="box-side" />
      <path d={face(at(0, 0, up), at(right, 0, up), at(right, left, up), at(0, left, up))} className="box-side" />
    </svg>
  );
}
