import { useEffect, useRef, useState } from "react";
import { call } from "../api/client";
import type { Thumb } from "../api/types";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { StickDial } from "../stage/dials/StickDial";
import { wrapTilt } from "../stage/geometry";
import { degreesText } from "../ui/marks";
import type { RimPlace, What } from "./edits";
import { GaugeDial } from "./GaugeDial";
import type { Card } from "./useCard";
import type { Gauge, Held } from "./useGauge";

const LOOK: Record<What["kind"], string> = {
  edge: "Look along the edge. Turn the needle to the tilt you see, then commit.",
  length: "Compare it with the near upright by eye: what part of it, or how many times? Then commit.",
  rim: "Look at the rim. Open the ellipse as far as you see it open, then commit.",
  alignment: "By eye: how far beside the line does it stand, in near uprights? 0 is in line.",
};
const SIGHT: Record<What["kind"], string> = {
  edge: "Hold the stick along the edge, arm straight, and read its tilt.",
  length: "Arm straight: mark the near upright with your thumb, then see what part of it this is.",
  rim: "Stick upright: how high is the rim’s short axis, as a part of its width?",
  alignment: "Hold up a plumb line, or a level one: what does it say?",
};
const NUDGES = [-5, -1, 1, 5];

/** What is being read: the judgement first, then stick, gauge or thumb; large and under the thumb. */
export function ReadingPanel({
  card,
  gauge,
  byGauge,
  onByGauge,
  thumb,
  arm,
}: {
  card: Card;
  gauge: Gauge;
  byGauge: boolean;
  onByGauge: (on: boolean) => void;
  thumb: Thumb | null;
  arm: number | null;
}) {
  const { task } = card;
  const panel = useRef<HTMLElement>(null);
  useEffect(() => {
    if (task.kind !== "rest") panel.current?.querySelector<SVGElement>("[role=slider]")?.focus({ preventScroll: true });
  }, [task]);
  if (task.kind === "rest") return null;
  const { what } = task;
  return (
    <section ref={panel} className="reading-panel" aria-label={what.words}>
      <h2 className="reading-head">
        {what.words}
        {"again" in what && what.again && <small> once more</small>}
      </h2>
      {task.kind === "judge" ? (
        <Judge key={what.words} what={what} card={card} />
      ) : (
        <>
          {task.judged !== null && <p className="judged-line">Judged {inUnit(what.kind, task.judged)}</p>}
          {what.kind === "edge" && <ReadTilt card={card} gauge={gauge} byGauge={byGauge} onByGauge={onByGauge} />}
          {what.kind === "length" && <ReadLength card={card} thumb={thumb} arm={arm} />}
          {what.kind === "rim" && <ReadRim card={card} gauge={gauge} again={what.again !== null} />}
          {what.kind === "alignment" && <ReadAlignment card={card} plumb={what.along === "plumb"} />}
        </>
      )}
      <button type="button" className="btn btn-ghost btn-sm mt-1" onClick={card.leave}>
        Cancel (Esc)
      </button>
    </section>
  );
}

function inUnit(kind: What["kind"], value: number): string {
  return kind === "edge" || kind === "rim" ? degreesText(value) : `${value.toFixed(2)} units`;
}

/** The judgement by eye, before anything is measured. */
function Judge({ what, card }: { what: What; card: Card }) {
  const { needle, setNeedle } = card;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        card.commit();
      }}
      onKeyDown={(event) => {
        if (event.key === "Enter" && !(event.target instanceof HTMLButtonElement)) {
          event.preventDefault();
          card.commit();
        }
      }}
    >
      <p aria-live="polite">{LOOK[what.kind]}</p>
      {what.kind === "edge" && <NeedleDial tilt={needle} onTurn={setNeedle} />}
      {what.kind === "rim" && <RimDial degree={needle} onOpen={setNeedle} />}
      {what.kind === "length" && (
        <StickDial label={`${what.words}: what you judge`} value={needle} most={3} unit="units" onSlide={setNeedle} />
      )}
      <Figure
        label="Judged"
        value={needle}
        onValue={setNeedle}
        unit={what.kind === "edge" || what.kind === "rim" ? "°" : "units"}
      />
      <button type="submit" className="btn btn-primary big-button w-full">
        Commit
      </button>
    </form>
  );
}

function Figure({
  label,
  value,
  onValue,
  unit,
  step = unit === "°" ? 0.5 : 0.01,
}: {
  label: string;
  value: number;
  onValue: (value: number) => void;
  unit: string;
  step?: number;
}) {
  const [text, setText] = useState<string | null>(null);
  return (
    <label className="big-figure">
      {label}
      <input
        type="number"
        inputMode="decimal"
        aria-label={label}
        className="input tabular-nums"
        step={step}
        value={text ?? String(Math.round(value * 1000) / 1000)}
        onChange={(event) => {
          setText(event.target.value);
          const number = Number(event.target.value);
          if (event.target.value !== "" && Number.isFinite(number)) onValue(number);
        }}
        onBlur={() => setText(null)}
      />
      {unit}
    </label>
  );
}

/** A tilt by the stick, or by the gauge. */
function ReadTilt({
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
        label="Read with"
        options={[
          { name: "Stick", on: !byGauge, choose: () => onByGauge(false) },
          { name: "Gauge", on: byGauge, choose: () => onByGauge(true) },
        ]}
      />
      {byGauge ? (
        <GaugeDial gauge={gauge} held={held} onHeld={setHeld} />
      ) : (
        <>
          <p>{SIGHT.edge}</p>
          <NeedleDial sighted label="Needle: the tilt of the stick" tilt={tilt} onTurn={setTilt} />
          <div className="nudges">
            {NUDGES.map((by) => (
              <button key={by} type="button" className="btn" onClick={() => setTilt(wrapTilt(tilt + by))}>
                {by > 0 ? `+${by}°` : `−${-by}°`}
              </button>
            ))}
          </div>
          <Figure label="Stick" value={tilt} onValue={setTilt} unit="°" />
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
          Keep {degreesText(byGauge && held ? held.tilt_deg : tilt)}
        </button>
      )}
    </>
  );
}

/** A length by the thumb: as a part of the unit, or by its mark on the stick. */
function ReadLength({ card, thumb, arm }: { card: Card; thumb: Thumb | null; arm: number | null }) {
  const [ratio, setRatio] = useState(1);
  const [mark, setMark] = useState("");
  const [fault, setFault] = useState("");
  const signed = card.task.kind === "read" && card.task.what.kind === "length" && card.task.what.slot.of === "top";
  const fromMark = async (text: string) => {
    setMark(text);
    setFault("");
    const mm = Number(text);
    if (!thumb || !(mm > 0)) return;
    try {
      const told = await call("post", "/api/thumb", { body: { mark_mm: mm, unit_mm: thumb.unit_mm, arm_mm: arm } });
      if (told.units) setRatio(told.units.value);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <>
      <p>
        {SIGHT.length}
        {signed && " Negative if its top stands above the unit’s."}
      </p>
      {!signed && <StickDial label="Thumb: parts of the unit" value={ratio} most={3} unit="units" onSlide={setRatio} />}
      <Figure label="Thumb" value={ratio} onValue={setRatio} unit="units" />
      {thumb && (
        <label className="big-figure">
          or its mark
          <input
            type="number"
            inputMode="decimal"
            className="input tabular-nums"
            min={0}
            value={mark}
            onChange={(event) => void fromMark(event.target.value)}
          />
          mm of {thumb.unit_mm.toFixed(0)}
        </label>
      )}
      {fault && (
        <p role="alert" className="font-semibold text-error">
          {fault}
        </p>
      )}
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={!signed && !(ratio > 0)}
        onClick={() => card.keepRead({ value: ratio, with: "stick" })}
      >
        Keep {ratio.toFixed(2)} units
      </button>
    </>
  );
}

/** A rim by the stick, or the dip of the line of sight by the gauge; where it stands, so that eye level can check it. */
function ReadRim({ card, gauge, again }: { card: Card; gauge: Gauge; again: boolean }) {
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
          label="Read with"
          options={[
            { name: "Stick: short axis / width", on: !bySight, choose: () => setBySight(false) },
            { name: "Gauge: line of sight", on: bySight, choose: () => setBySight(true) },
          ]}
        />
      )}
      {bySight ? (
        <>
          <p>Lay the gauge along your line of sight to the rim’s middle: how far from level does it point?</p>
          <GaugeDial
            gauge={gauge}
            held={held}
            onHeld={(found) => {
              setHeld(found);
              setDip(Math.abs(Math.round(found.tilt_deg * 10) / 10));
            }}
          />
          <Figure label="Off level" value={dip} onValue={setDip} unit="°" />
        </>
      ) : (
        <>
          <p>{SIGHT.rim}</p>
          <Figure label="Short axis / width" value={ratio} onValue={setRatio} unit="" step={0.01} />
        </>
      )}
      {!again && (
        <Choice
          label="What shows of it"
          options={[
            { name: "Its top shows", on: !place.from_below, choose: () => setPlace({ ...place, from_below: null }) },
            { name: "Its underside", on: !!place.from_below, choose: () => setPlace({ ...place, from_below: true }) },
          ]}
        />
      )}
      {!again && (
        <fieldset className="rim-place">
          <legend>Where it stands, in near uprights (leave open what you did not measure)</legend>
          <Open
            label="its middle, down from the top"
            value={place.down}
            onValue={(down) => setPlace({ ...place, down })}
          />
          <Open
            label="to the right of the upright"
            value={place.across}
            onValue={(across) => setPlace({ ...place, across })}
          />
          <Open label="its width" value={place.width} onValue={(width) => setPlace({ ...place, width })} />
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
        Keep {bySight ? degreesText(dip) : ratio.toFixed(2)}
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

/** What a plumb line, or a level one, told. */
function ReadAlignment({ card, plumb }: { card: Card; plumb: boolean }) {
  const [first, setFirst] = useState("");
  const [second, setSecond] = useState("");
  const [beside, setBeside] = useState(0);
  return (
    <>
      <p>{SIGHT.alignment}</p>
      <label className="name-line">
        {plumb ? "Upper" : "Left"}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={first}
          onChange={(e) => setFirst(e.target.value)}
        />
      </label>
      <label className="name-line">
        {plumb ? "Lower" : "Right"}
        <input
          className="input input-sm grow"
          maxLength={90}
          value={second}
          onChange={(e) => setSecond(e.target.value)}
        />
      </label>
      <Figure
        label={plumb ? "The upper stands to the right by" : "The right one stands above by"}
        value={beside}
        onValue={setBeside}
        unit="units"
      />
      <button
        type="button"
        className="btn btn-primary big-button w-full"
        disabled={Math.abs(beside) > 100}
        onClick={() => card.keepTold({ first, second, beside })}
      >
        {Math.abs(beside) < 0.005 ? "Keep: in line" : `Keep ${beside.toFixed(2)} units`}
      </button>
    </>
  );
}

function Choice({ label, options }: { label: string; options: { name: string; on: boolean; choose: () => void }[] }) {
  return (
    <fieldset className="choice" aria-label={label}>
      {options.map(({ name, on, choose }) => (
        <button key={name} type="button" className={`btn ${on ? "choice-on" : ""}`} aria-pressed={on} onClick={choose}>
          {name}
        </button>
      ))}
    </fieldset>
  );
}
