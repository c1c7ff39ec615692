import { useEffect, useState } from "react";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { t } from "../words";
import type { RimPlace } from "./edits";
import { Choice, Figure } from "./Figure";
import { GaugeDial } from "./GaugeDial";
import type { Card } from "./useCard";
import type { Gauge, Held } from "./useGauge";

/** A rim by the stick, or the dip of the line of sight by the gauge; where it stands, so that eye level can check it. */
export function ReadRim({ card, gauge, again }: { card: Card; gauge: Gauge; again: boolean }) {
  const [bySight, setBySight] = useState(false);
  const [ratio, setRatio] = useState(0.3);
  const [dip, setDip] = useState(15);
  const [place, setPlace] = useState<RimPlace>({ down: null, across: null, width: null });
  const [held, setHeld] = useState<Held | null>(null);
  const value = bySight ? dip : ratio;
  const { source, begin } = gauge;
  useEffect(() => {
    if (bySight && !source) begin();
  }, [bySight, source, begin]);
  return (
    <>
      {!again && (
        <Choice
          label={t("card.readRim.readWith")}
          options={[
            { name: t("card.readRim.byStick"), on: !bySight, choose: () => setBySight(false) },
            { name: t("card.readRim.byGauge"), on: bySight, choose: () => setBySight(true) },
          ]}
        />
      )}
      {bySight ? (
        <>
          <p>{t("card.readRim.howByGauge")}</p>
          <GaugeDial
            gauge={gauge}
            held={held}
            onHeld={(found) => {
              setHeld(found);
              setDip(Math.abs(Math.round(found.tilt_deg * 10) / 10));
            }}
          />
          <Figure label={t("card.readRim.offLevel")} value={dip} onValue={setDip} unit="°" />
        </>
      ) : (
        <>
          <p>{t("card.readRim.howByStick")}</p>
          <Figure label={t("card.readRim.shortAxisWidth")} value={ratio} onValue={setRatio} unit="" step={0.01} />
        </>
      )}
      {!again && (
        <Choice
          label={t("card.readRim.face")}
          options={[
            {
              name: t("card.readRim.itsTopShows"),
              on: !place.from_below,
              choose: () => setPlace({ ...place, from_below: null }),
            },
            {
              name: t("card.readRim.itsUnderside"),
              on: !!place.from_below,
              choose: () => setPlace({ ...place, from_below: true }),
            },
          ]}
        />
      )}
      {!again && (
        <fieldset className="rim-place">
          <legend>{t("card.readRim.place")}</legend>
          <Open
            label={t("card.readRim.downFromTop")}
            value={place.down}
            onValue={(down) => setPlace({ ...place, down })}
          />
          <Open
            label={t("card.readRim.rightOfUpright")}
            value={place.across}
            onValue={(across) => setPlace({ ...place, across })}
          />
          <Open
            label={t("card.readRim.itsWidth")}
            value={place.width}
            onValue={(width) => setPlace({ ...place, width })}
          />
        </fieldset>
      )}
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={bySight ? Math.abs(dip) >= 90 : !(ratio >= 0 && ratio <= 1)}
        onClick={() =>
          card.keepRead(
            { value: bySight && place.from_below ? -value : value, with: bySight ? "gauge" : "stick" },
            place,
          )
        }
      >
        {t("card.readRim.keep")} {bySight ? degreesText(dip) : figure(ratio, 2)}
      </button>
    </>
  );
}

interface OpenProps {
  label: string;
  value: number | null | undefined;
  onValue: (value: number | null) => void;
}

function Open({ label, value, onValue }: OpenProps) {
  return (
    <label className="flex items-center gap-2 text-sm">
      <input
        type="number"
        inputMode="decimal"
        className="input input-sm w-20 tabular-nums"
        step={0.05}
        defaultValue={value ?? ""}
        onChange={(event) => {
          const number = Number(event.target.value);
          onValue(event.target.value === "" || !Number.isFinite(number) ? null : number);
        }}
      />
      {label}
    </label>
  );
}
