import { pictureUrl } from "../api/client";
import { isStraight, type Picture, type Report, type VanishingPoint } from "../api/types";
import { LongTable, type TablePoint } from "../stage/LongTable";
import { t } from "../words";

type Finite = VanishingPoint & { x_px: number; y_px: number };

const keyOf = (v: VanishingPoint) => `${v.form}-${v.family}`;

interface SheetTableProps {
  picture: Picture;
  report: Report;
  lit: VanishingPoint | null;
  formName: (form: string | null) => string;
  /** While a judgement is made the vanishing points rest; eye level may stay. */
  resting: boolean;
}

/** A sheet's photo on the long table, with what its sightings imply. */
export function SheetTable({ picture, report, lit, formName, resting }: SheetTableProps) {
  const shown = resting ? [] : report.vanishing_points;
  const level = shown.filter((v) => v.family !== "upright" && v.family !== "slope");
  const points = level
    .filter((v): v is Finite => v.x_px !== null && v.y_px !== null)
    .map((v): TablePoint => ({ ...v, key: keyOf(v), name: formName(v.form) }));
  const { left_y_px, right_y_px } = report.eye_level;
  const [width, height] = [picture.width_px, picture.height_px];
  return (
    <LongTable
      size={{ width, height }}
      level={left_y_px === null ? null : [left_y_px, right_y_px ?? left_y_px]}
      points={points}
      lit={lit && keyOf(lit)}
      nothing={
        resting
          ? t("sighting.sheetTable.resting")
          : report.perspective === "parallel"
            ? t("sighting.sheetTable.parallel")
            : isStraight(report)
              ? t("sighting.sheetTable.straight", { view: report.view ?? "" })
              : level.length > 0
                ? t("sighting.sheetTable.parallelToPicture")
                : t("sighting.sheetTable.empty")
      }
    >
      <image href={pictureUrl(picture.id, "thumb")} width={width} height={height} preserveAspectRatio="none" />
    </LongTable>
  );
}
