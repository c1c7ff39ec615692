import { useState } from "react";
import { call } from "../api/client";
import { Dialog } from "../ui/Dialog";
import { degreesText } from "../ui/marks";
import { t } from "../words";
import type { Gauge } from "./useGauge";

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
      if (samples.length < 5) return setFault(t("card.calibrateDialog.nothingMeasured"));
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
    <Dialog title={t("card.calibrateDialog.calibrateTheGauge")} onClose={onClose}>
      <p className="mb-3" aria-live="polite">
        {found !== null
          ? t("card.calibrateDialog.kept", { degrees: degreesText(found) })
          : first
            ? t("card.calibrateDialog.turnRound")
            : t("card.calibrateDialog.layDown")}
      </p>
      {simulated && (
        <p className="simulated" role="note">
          <b>{t("card.calibrateDialog.simulatedGauge")}</b> {t("card.calibrateDialog.simulated")}
        </p>
      )}
      <p className="mb-3 text-sm">{t("card.calibrateDialog.offsetSoFar", { degrees: degreesText(gauge.offset) })}</p>
      {found === null && (
        <button
          type="button"
          className="btn btn-primary big-button"
          disabled={holding || gauge.live === null}
          onClick={() => void step()}
        >
          {holding
            ? t("card.calibrateDialog.holdStill")
            : first
              ? t("card.calibrateDialog.holdTurnedRound")
              : t("card.calibrateDialog.hold")}
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
