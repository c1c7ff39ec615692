import { useState } from "react";
import { call } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { degreesText } from "../ui/marks";
import type { Gauge } from "./useGauge";
import { words } from "./words";

const say = words.calibrateDialog;

/** Lay the gauge on a level and turn it round: what it adds by itself shows, and is kept. */
export function CalibrateDialog({ gauge, onClose }: { gauge: Gauge; onClose: () => void }) {
  const [first, setFirst] = useState<number[] | null>(null);
  const [found, setFound] = useState<number | null>(null);
  const [fault, setFault] = useState("");
  const { simulated, holding } = gauge;
  const step = async () => {
    setFault("");
    if (!first) {
      simulated?.lay(0);
      const samples = await gauge.sample();
      if (samples.length < 5) return setFault(say.theGaugeGaveNothingStand);
      simulated?.turn();
      return setFirst(samples);
    }
    const turned_deg = await gauge.sample();
    simulated?.turn();
    try {
      const told = await call("post", "/api/gauge", { body: { samples_deg: first, turned_deg } });
      gauge.keepOffset(told.offset_deg ?? 0);
      setFound(told.offset_deg ?? 0);
    } catch (error) {
      setFault((error as Error).message);
    }
    setFirst(null);
  };
  return (
    <Dialog title={say.calibrateTheGauge} onClose={onClose}>
      <p className="mb-3" aria-live="polite">
        {found !== null
          ? say.keptTheGaugeAddsBy(degreesText(found))
          : first
            ? say.nowTurnItRoundEnd
            : say.layTheDeviceOnIts}
      </p>
      {simulated && (
        <p className="simulated" role="note">
          <b>{say.simulatedGauge}</b> {say.itLiesOnALevel}
        </p>
      )}
      <p className="mb-3 text-sm">{say.offsetKeptSoFar(degreesText(gauge.offset))}</p>
      {found === null && (
        <button
          type="button"
          className="btn btn-primary big-button"
          disabled={holding || gauge.live === null}
          onClick={() => void step()}
        >
          {holding ? say.holdStill : first ? say.holdTurnedRound : say.hold}
        </button>
      )}
      {fault && (
        <p role="alert" className="mt-2 font-semibold text-error">
          {fault}
        </p>
      )}
    </Dialog>
  );
}
