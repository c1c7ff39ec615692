import { useState } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { wrapTilt } from "../stage/geometry";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { t } from "../words";
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
          <b>{t("card.gaugeDial.simulatedGauge")}</b> {t("card.gaugeDial.noSensor")}
        </p>
      )}
      <NeedleDial
        sighted
        label={simulated ? t("card.gaugeDial.stick") : t("card.gaugeDial.gauge")}
        tilt={simulated ? laid : Math.round(shown * 10) / 10}
        onTurn={(tilt) => {
          if (!simulated) return;
          const to = wrapTilt(tilt);
          setLaid(to);
          simulated.lay(to);
        }}
      />
      <Reading shown={shown} held={holding ? null : held} />
      <button
        type="button"
        className={`btn big-button w-full ${held ? "" : "btn-primary"}`}
        disabled={holding || live === null}
        title={t("card.gaugeDial.holdStillHint")}
        data-hold=""
        onClick={() => void gauge.hold().then((found) => found && onHeld(found))}
      >
        {holding ? t("card.gaugeDial.holdStill") : held ? t("card.gaugeDial.holdAgain") : t("card.gaugeDial.hold")}
      </button>
      {gauge.fault && (
        <p role="alert" className="mt-1 font-semibold text-error">
          {gauge.fault}
        </p>
      )}
    </div>
  );
}

function Reading({ shown, held }: { shown: number; held: Held | null }) {
  return (
    <p className="gauge-figure" aria-live="off">
      {degreesText(shown)}
      {held && (
        <small>
          {held.still
            ? t("card.gaugeDial.heldStillSpread", { value: figure(held.spread_deg, 1) })
            : t("card.gaugeDial.moved", { value: figure(held.spread_deg, 1) })}
        </small>
      )}
    </p>
  );
}
