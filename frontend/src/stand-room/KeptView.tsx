import { fitView } from "../stage/geometry";
import { useSize } from "../ui/useSize";
import { t } from "../words";
import { ExactLines } from "./ExactLines";
import type { Kept } from "./useCompare";

/** The view that was kept, beside the one that changes. */
export function KeptView({ kept, lines }: { kept: Kept; lines: boolean }) {
  const { ref, width, height } = useSize({ width: 400, height: 400 });
  const { width_px, height_px } = kept.drawing;
  const place = fitView({ width: width_px, height: height_px }, { width, height });
  const [w, h] = [width_px * place.k, height_px * place.k];
  return (
    <div ref={ref} className="stand-stage">
      <svg width={width} height={height} role="img" aria-label={t("stand.keptView.theKeptView")}>
        <rect x={place.x} y={place.y} width={w} height={h} className="stand-paper" />
        {kept.picture && <image href={kept.picture} x={place.x} y={place.y} width={w} height={h} />}
        <svg x={place.x} y={place.y} width={w} height={h} viewBox={`0 0 ${width_px} ${height_px}`} aria-hidden="true">
          {(lines || !kept.picture) && <ExactLines drawing={kept.drawing} look="seen" />}
        </svg>
      </svg>
      <p className="stand-caption">{t("stand.keptView.kept")}</p>
    </div>
  );
}
