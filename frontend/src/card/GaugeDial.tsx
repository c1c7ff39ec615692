import { useState } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { wrapTilt } from "../stage/geometry";
import { degreesText } from "../ui/marks";
import type { Gauge, Held } from "./useGauge";

/** The gauge: one big needle that follows the device, held for a second by one big button. */
export function GaugeDial({ gauge, held, onHeld }: { gauge: Gauge; held: Held | null; onHeld: (held: Held) => void }) {
  const [laid, setLaid] = useState(0);
  const { simulated, live, holding } = gauge;
  const shown = held && !holding ? held.tilt_deg : (live ?? 0);
  return (
    <div>
      {simulated && (
        <p className="simulated" role="note">
          <b>Simulated gauge.</b> This device gives no level sensor here: turn the needle as you would lay the stick,
          and the gauge follows.
        </p>
      )}
      <NeedleDial
        sighted
        label={simulated ? "Where the stick lies" : "Gauge"}
        tilt={simulated ? laid : Math.round(shown * 10) / 10}
        onTurn={(tilt) => {
          if (!simulated) return;
          const to = wrapTilt(tilt);
          setLaid(to);
          simulated.lay(to);
        }}
      />
      <p className="gauge-figure" aria-live="off">
        {degreesText(shown)}
        {held && !holding && (
          <small>
            {held.still
              ? ` held still, spread ${held.spread_deg.toFixed(1)}°`
              : ` moved: spread ${held.spread_deg.toFixed(1)}°. Hold again`}
          </small>
        )}
      </p>
      <button
        type="button"
        className={`btn big-button w-full ${held ? "" : "btn-primary"}`}
        disabled={holding || live === null}
        title="Hold still for a second (H)"
        data-hold=""
        onClick={() => void gauge.hold().then((found) => found && onHeld(found))}
      >
        {holding ? "Hold still…" : held ? "Hold again" : "Hold"}
      </button>
      {gauge.fault && (
        <p role="alert" className="mt-1 font-semibold text-error">
          {gauge.fault}
        </p>
      )}
    </div>
  );
}
