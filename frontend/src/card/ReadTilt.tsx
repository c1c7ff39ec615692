import { useState } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { wrapTilt } from "../stage/geometry";
import { degreesText } from "../ui/marks";
import { t } from "../words";
import { Choice, Figure } from "./Figure";
import { GaugeDial } from "./GaugeDial";
import type { Card } from "./useCard";
import type { Gauge, Held } from "./useGauge";

const NUDGES = [-5, -1, 1, 5];

interface ReadTiltProps {
  card: Card;
  gauge: Gauge;
  byGauge: boolean;
  onByGauge: (on: boolean) => void;
}

/** A tilt by the stick, or by the gauge. */
export function ReadTilt({ card, gauge, byGauge, onByGauge }: ReadTiltProps) {
  const [tilt, setTilt] = useState(0);
  const [held, setHeld] = useState<Held | null>(null);
  const valid = Math.abs(tilt) < 90;
  return (
    <>
      <Choice
        label={t("card.readTilt.readWith")}
        options={[
          { name: t("card.readTilt.stick"), on: !byGauge, choose: () => onByGauge(false) },
          { name: t("card.readTilt.gauge"), on: byGauge, choose: () => onByGauge(true) },
        ]}
      />
      {byGauge ? <GaugeDial gauge={gauge} held={held} onHeld={setHeld} /> : <ByStick tilt={tilt} onTilt={setTilt} />}
      {(!byGauge || held) && (
        <button
          type="button"
          className="btn btn-primary big-button w-full"
          disabled={byGauge ? !held : !valid}
          onClick={() =>
            card.keepRead(
              byGauge && held
                ? { value: held.tilt_deg, with: "gauge", held_sd_deg: held.spread_deg }
                : { value: tilt, with: "stick" },
            )
          }
        >
          {t("card.readTilt.keep")} {degreesText(byGauge && held ? held.tilt_deg : tilt)}
        </button>
      )}
    </>
  );
}

function ByStick({ tilt, onTilt }: { tilt: number; onTilt: (tilt: number) => void }) {
  return (
    <>
      <p>{t("card.readTilt.how")}</p>
      <NeedleDial sighted label={t("card.readTilt.needle")} tilt={tilt} onTurn={onTilt} />
      <div className="nudges">
        {NUDGES.map((by) => (
          <button key={by} type="button" className="btn" onClick={() => onTilt(wrapTilt(tilt + by))}>
            {by > 0 ? `+${by}°` : `−${-by}°`}
          </button>
        ))}
      </div>
      <Figure label={t("card.readTilt.stick")} value={tilt} onValue={onTilt} unit="°" />
    </>
  );
}
