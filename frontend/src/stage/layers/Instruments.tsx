import { type FanAnswer, isRim, type Point, type ProbeAnswer } from "../../api/types";
import type { Size, View } from "../geometry";
import type { Drawn, Laid } from "../laid";
import { FanLines, ProbeMarks } from "./Aids";
import { ConstructionLines, EasedLines, FigureMark, GuideLine } from "./Measures";
import { RimAnswer, RimsDue } from "./Rims";

export interface Asked {
  fan: FanAnswer | null;
  /** The form whose rims are drawn where they are due. */
  rimsDue: { form: string | null } | null;
  probe: { at: Point; answer: ProbeAnswer } | null;
}

interface InstrumentsProps {
  laid: Laid;
  asked: Asked;
  drawn: Drawn;
  view: View;
  size: Size;
}

/** What was asked of the view, and what is measured by: nothing but a plumb or level line is seen while the eye judges. */
export function Instruments({ laid, asked, drawn, view, size }: InstrumentsProps) {
  const { sheet, report, chosen, findings } = laid;
  const { fan, rimsDue, probe } = asked;
  const guide = drawn.guide && <GuideLine {...drawn.guide} view={view} size={size} />;
  if (laid.quiet) return guide;
  const finding = chosen ? findings.get(chosen.id) : undefined;
  return (
    <>
      {fan && <FanLines fan={fan} view={view} />}
      {rimsDue && (
        <RimsDue report={report} sheetRims={(sheet.sightings ?? []).filter(isRim)} form={rimsDue.form} view={view} />
      )}
      {chosen && isRim(chosen) && finding && (
        <RimAnswer finding={finding} report={report} view={view} far={size.width + size.height} />
      )}
      {probe && <ProbeMarks at={probe.at} answer={probe.answer} view={view} />}
      {drawn.construction && <ConstructionLines {...drawn.construction} view={view} />}
      <EasedLines lines={drawn.eased} view={view} />
      {drawn.figure && <FigureMark {...drawn.figure} view={view} />}
      {guide}
    </>
  );
}
