import type { DrawnPoint, StandDrawing, StandFile } from "../api/types";
import { LongTable, type TablePoint } from "../stage/LongTable";
import { t } from "../words";
import { ExactLines } from "./ExactLines";
import { nameOf, thingsOf, viewOf } from "./edits";

const ALIKE_PX = 0.5;

type Finite = DrawnPoint & { x_px: number; y_px: number };

/** The vanishing points of a drawing, those that several things share as one. */
export function tablePoints(file: StandFile, drawing: StandDrawing): TablePoint[] {
  const found: { point: Finite; things: string[] }[] = [];
  for (const point of drawing.vanishing_points) {
    if (point.family === "upright" || point.family === "slope" || point.x_px === null || point.y_px === null) continue;
    const finite = point as Finite;
    const same = found.find(
      ({ point: p }) => p.family === point.family && Math.hypot(p.x_px - finite.x_px, p.y_px - finite.y_px) < ALIKE_PX,
    );
    if (same) same.things.push(point.thing);
    else found.push({ point: finite, things: [point.thing] });
  }
  return found.map(({ point, things }) => {
    const first = thingsOf(file).find((thing) => thing.id === things[0]);
    const name = first ? nameOf(first) : (things[0] ?? "");
    return {
      ...point,
      key: `${things[0]}-${point.family}`,
      name: things.length > 1 ? `${name} +${things.length - 1}` : name,
    };
  });
}

interface StandTableProps {
  file: StandFile;
  drawing: StandDrawing;
  /** The view that this one is compared with. */
  before: { file: StandFile; drawing: StandDrawing } | null;
  chosen: string | null;
}

/** The long table of the stand: it moves along with the eye. */
export function StandTable({ file, drawing, before, chosen }: StandTableProps) {
  const points = tablePoints(file, drawing);
  const { width_px: width, height_px: height } = drawing;
  const own = chosen ? points.filter(({ key }) => key.startsWith(`${chosen}-`)) : points;
  const level = drawing.eye_level;
  return (
    <LongTable
      size={{ width, height }}
      level={level && [level.left_y_px, level.right_y_px]}
      points={own.length > 0 ? own : points}
      before={before ? tablePoints(before.file, before.drawing) : []}
      lit={null}
      nothing={nothingWords(file)}
    >
      <ExactLines drawing={drawing} look="small" />
    </LongTable>
  );
}

function nothingWords(file: StandFile): string {
  const view = viewOf(file);
  if (view.parallel) return t("stand.standTable.parallel");
  if (Math.abs(view.pitch_deg) > 80) return t("stand.standTable.straightUpOrDown");
  return thingsOf(file).length === 0 ? t("stand.standTable.empty") : t("stand.standTable.parallelToPicture");
}
