import { useQuery } from "@tanstack/react-query";
import {
  CartesianGrid,
  ComposedChart,
  ErrorBar,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  XAxis,
  YAxis,
} from "recharts";
import { call } from "../api/client";
import type { LoggedSkill } from "../api/types";
import { amount, UNIT_WORDS } from "../ui/figures";
import { dayText } from "../ui/locale";
import { t } from "../words";

/** A skill's errors over time: every reading, and each week's mean with its 95 % interval; the band is what is within tolerance. */
export function SkillChart({ row }: { row: LoggedSkill }) {
  const { data, error } = useQuery({
    queryKey: ["logbook", "chart", row.skill],
    queryFn: () => call("get", "/api/logbook/chart", { query: { skill: row.skill } }),
  });
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <p>{t("logbook.skillChart.opening")}</p>;
  const dots = data.readings.map((one) => ({ at: Date.parse(one.at), error: one.error }));
  const weeks = data.weeks.map((week) => ({
    at: Date.parse(week.at),
    mean: week.mean,
    interval: week.low === null || week.high === null ? null : [week.mean - week.low, week.high - week.mean],
  }));
  const known = weeks.filter((week) => week.interval);
  const few = weeks.filter((week) => !week.interval);
  const farthest = Math.max(2.2 * data.tolerance, ...dots.map((one) => Math.abs(one.error)));
  const far = farthest > 5 ? Math.ceil(farthest) : farthest;
  return (
    <figure>
      <div className="skill-chart">
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart margin={{ top: 8, right: 12, bottom: 4, left: 4 }} accessibilityLayer={false}>
            <CartesianGrid vertical={false} stroke="var(--color-base-300)" />
            <ReferenceArea y1={-data.tolerance} y2={data.tolerance} fill="var(--color-primary)" fillOpacity={0.12} />
            <ReferenceLine y={0} stroke="var(--color-base-content)" />
            <XAxis
              dataKey="at"
              type="number"
              domain={["dataMin - 86400000", "dataMax + 86400000"]}
              tickFormatter={(at: number) => dayText(at, "short")}
              tick={{ fill: "var(--color-base-content)", fontSize: 13 }}
              stroke="var(--color-base-content)"
            />
            <YAxis
              type="number"
              domain={[-far, far]}
              ticks={[-far, -data.tolerance, 0, data.tolerance, far]}
              tickFormatter={(value: number) => amount(value, data.unit, true)}
              tick={{ fill: "var(--color-base-content)", fontSize: 13 }}
              stroke="var(--color-base-content)"
              width={72}
            />
            <Scatter
              data={dots}
              dataKey="error"
              fill="var(--color-base-content)"
              fillOpacity={0.35}
              isAnimationActive={false}
            />
            <Scatter data={known} dataKey="mean" fill="var(--color-primary)" isAnimationActive={false} shape="diamond">
              <ErrorBar dataKey="interval" direction="y" stroke="var(--color-primary)" strokeWidth={2} width={8} />
            </Scatter>
            <Scatter
              data={few}
              dataKey="mean"
              fill="none"
              stroke="var(--color-primary)"
              strokeWidth={1.5}
              isAnimationActive={false}
              shape="diamond"
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="text-sm">
        {t("logbook.skillChart.described", { unit: UNIT_WORDS[data.unit], over: row.over, under: row.under })}
      </figcaption>
    </figure>
  );
}
