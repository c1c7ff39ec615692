import { useEffect, useState } from "react";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import type { RimPlace } from "./edits";
import { Choice, Figure } from "./Figure";
import { GaugeDial } from "./GaugeDial";
import type { Card } from "./useCard";
import type { Gauge, Held } from "./useGauge";
import { words } from "./words";

const say = words.readRim;

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
          label={say.readWith}
          options={[
            { name: say.stickShortAxisWidth, on: !bySight, choose: () => setBySight(false) },
            { name: say.gaugeLineOfSight, on: bySight, choose: () => setBySight(true) },
          ]}
        />
      )}
      {bySight ? (
        <>
          <p>{say.layTheGaugeAlongYour}</p>
          <GaugeDial
            gauge={gauge}
            held={held}
            onHeld={(found) => {
              setHeld(found);
              setDip(Math.abs(Math.round(found.tilt_deg * 10) / 10));
            }}
          />
          <Figure label={say.offLevel} value={dip} onValue={setDip} unit="°" />
        </>
      ) : (
        <>
          <p>{say.stickUprightHowHighIs}</p>
          <Figure label={say.shortAxisWidth} value={ratio} onValue={setRatio} unit="" step={0.01} />
        </>
      )}
      {!again && (
        <Choice
          label={say.whatShowsOfIt}
          options={[
            { name: say.itsTopShows, on: !place.from_below, choose: () => setPlace({ ...place, from_below: null }) },
            { name: say.itsUnderside, on: !!place.from_below, choose: () => setPlace({ ...place, from_below: true }) },
          ]}
        />
      )}
      {!again && (
        <fieldset className="rim-place">
          <legend>{say.whereItStandsInNear}</legend>
          <Open label={say.itsMiddleDownFromThe} value={place.down} onValue={(down) => setPlace({ ...place, down })} />
          <Open label={say.toTheRightOfThe} value={place.across} onValue={(across) => setPlace({ ...place, across })} />
          <Open label={say.itsWidth} value={place.width} onValue={(width) => setPlace({ ...place, width })} />
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
        {say.keep} {bySight ? degreesText(dip) : figure(ratio, 2)}
      </button>
    </>
  );
}

function Open({
  label,
  value,
  onValue,
}: {
  label: string;
  value: number | null | undefined;
  onValue: (value: number | null) => void;
}) {
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
