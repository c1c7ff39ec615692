import "../stage/stage.css";
import "./card.css";
import type { SheetFull } from "../api/types";
import { KeepDialogs } from "../sheet/KeepDialogs";
import type { Tabs } from "../sheet/stash";
import { t } from "../words";
import { CardDialogs } from "./CardDialogs";
import { CardSide } from "./CardSide";
import { CardTools } from "./CardTools";
import { Cautions } from "./Cautions";
import { PointStrip } from "./PointStrip";
import { SchematicStage } from "./SchematicStage";
import { useCardScreen } from "./useCardScreen";

/** Sighting from life: the near corner large in the middle, one reading after another under the thumb. */
export function CardScreen({ full, tabs }: { full: SheetFull; tabs: Tabs }) {
  const desk = useCardScreen(full, tabs);
  const { open, sheet, report, schematic, easel, selected, setSelected, current, resting, onSlot, card } = desk;
  return (
    <div className="whole-screen card-grid">
      <h1 className="sr-only">{sheet.title || t("card.cardScreen.fromLife")}</h1>
      <CardTools full={full} desk={desk} />
      <div className="card-stage">
        {easel && <Cautions lines={easel.cautions} />}
        {schematic && (
          <SchematicStage
            schematic={schematic}
            report={report}
            selected={selected}
            current={current}
            resting={resting}
            onSlot={onSlot}
            onReading={setSelected}
          />
        )}
      </div>
      <div className="card-strip">{schematic && <PointStrip schematic={schematic} resting={resting} />}</div>
      <CardSide full={full} desk={desk} />
      <p className="sr-only" role="status" aria-live="polite">
        {card.said}
      </p>
      <KeepDialogs open={open} />
      <CardDialogs id={full.id} desk={desk} />
    </div>
  );
}
