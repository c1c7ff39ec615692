import { useState } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { wrapTilt } from "../stage/geometry";
import { degreesText } from "../ui/marks";
import { Choice, Figure } from "./Figure";
import { GaugeDial } from "./GaugeDial";
import type { Card } from "./useCard";
import type { Gauge, Held } from "./useGauge";
import { words } from "./words";

const say = words.readTilt;

const NUDGES = [-5, -1, 1, 5];

/** A tilt by the stick, or by the gauge. */
export function ReadTilt({
  card,
  gauge,
  byGauge,
  onByGauge,
}: {
  card: Card;
  gauge: Gauge;
  byGauge: boolean;
  onByGauge: (on: boolean) => void;
}) {
  const [tilt, setTilt] = useState(0);
  const [held, setHeld] = useState<Held | null>(null);
  const valid = Math.abs(tilt) < 90;
  return (
    <>
      <Choice
        label={say.readWith}
        options={[
          { name: "Stick", on: !byGauge, choose: () => onByGauge(false) },
          { name: "Gauge", on: byGauge, choose: () => onByGauge(true) },
        ]}
      />
      {byGauge ? (
        <GaugeDial gauge={gauge} held={held} onHeld={setHeld} />
      ) : (
        <>
          <p>{say.holdTheStickAlongThe}</p>
          <NeedleDial sighted label={say.needleTheTiltOfThe} tilt={tilt} onTurn={setTilt} />
          <div className="nudges">
            {NUDGES.map((by) => (
              <button key={by} type="button" className="btn" onClick={() => setTilt(wrapTilt(tilt + by))}>
                {by > 0 ? `+${by}°` : `−${-by}°`}
              </button>
            ))}
          </div>
          <Figure label={say.stick} value={tilt} onValue={setTilt} unit="°" />
        </>
      )}
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
          {say.keep} {degreesText(byGauge && held ? held.tilt_deg : tilt)}
        </button>
      )}
    </>
  );
}
