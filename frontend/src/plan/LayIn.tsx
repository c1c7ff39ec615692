import { useEffect, useRef } from "react";
import type { Plan, PlanStep } from "../api/types";
import { figure, withSign } from "../ui/locale";
import { t } from "../words";

interface LayInProps {
  plan: Plan;
  step: PlanStep | null;
  onStep: (number: number | null) => void;
}

/** The lay-in as a numbered strip: each step with its numbers on this paper. */
export function LayIn({ plan, step, onStep }: LayInProps) {
  const lit = useRef<HTMLLIElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it scrolls when another step is taken up
  useEffect(() => {
    lit.current?.scrollIntoView({ block: "nearest" });
  }, [step?.number]);
  return (
    <ol className="lay-in" aria-label={t("plan.layIn.layIn")}>
      {plan.steps.map((one) => {
        const on = one.number === step?.number;
        return (
          <li key={one.number} ref={on ? lit : null}>
            <button
              type="button"
              className={`lay-in-step ${on ? "lay-in-on" : ""}`}
              aria-current={on ? "step" : undefined}
              onClick={() => onStep(on ? null : one.number)}
            >
              <b>{one.number}</b>
              <span>{one.words}</span>
            </button>
          </li>
        );
      })}
    </ol>
  );
}

/** At every unit above and below eye level, the tilt of each family. */
export function TiltTables({ plan, called }: { plan: Plan; called: (form: string | null) => string }) {
  if (plan.tilts.length === 0) return null;
  return (
    <details className="tilt-tables">
      <summary>{t("plan.layIn.tiltTable")}</summary>
      {plan.tilts.map((table) => (
        <table key={`${table.form} ${table.family}`}>
          <caption>
            {[called(table.form), table.family].filter(Boolean).join(", ")}, {figure(table.x_mm, 0)}{" "}
            {t("plan.layIn.mmAcross")}
          </caption>
          <thead>
            <tr>
              <th scope="col">{t("plan.layIn.unitsFromEyeLevel")}</th>
              <th scope="col">{t("plan.layIn.mmDown")}</th>
              <th scope="col">{t("plan.layIn.tilt")}</th>
            </tr>
          </thead>
          <tbody>
            {table.rows.map((row) => (
              <tr key={row.units}>
                <td>{signed(row.units, 2)}</td>
                <td>{figure(row.y_mm, 0)}</td>
                <td>{signed(row.tilt_deg, 1)}°</td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
    </details>
  );
}

function signed(value: number, places: number): string {
  return withSign(value, places, true);
}
