import { X } from "lucide-react";
import type { DrawnElevations, StandElevations, StandThing } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { figure } from "../ui/locale";
import { NumberInput } from "../ui/NumberInput";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { Elevation } from "./Elevation";
import { nameOf } from "./edits";
import { ThingSelect } from "./ThingSelect";
import { DIVISIONS, GRIDS, type On, type OpenElevations, useElevations } from "./useElevations";

interface ElevationsProps {
  thing: StandThing;
  onThing: (thing: StandThing, done: boolean) => void;
  onClose: () => void;
}

/** A thing's plan, front and side beside the view: points are drawn, sizes typed, and the thing follows. */
export function Elevations({ thing, onThing, onClose }: ElevationsProps) {
  const open = useElevations(thing, onThing);
  const { shown, fault, drawn } = open;
  return (
    <section
      aria-label={t("stand.elevations.title", { name: nameOf(thing) })}
      className="elevations"
      data-testid="elevations"
    >
      <div className="flex items-center gap-2">
        <h2 className="grow font-bold">{t("stand.elevations.planAndElevations", { name: nameOf(thing) })}</h2>
        <IconButton
          icon={X}
          label={t("stand.elevations.closeTheElevations")}
          title={t("stand.elevations.closeEsc")}
          onClick={onClose}
        />
      </div>
      {fault && (
        <p role="alert" className="elevation-fault">
          {fault}
        </p>
      )}
      {shown && (
        <>
          <div className="thing-fields">
            <Sizes open={open} />
            <Grid open={open} />
            <Divided divided={open.divided} />
          </div>
          <Views open={open} shown={shown} />
          {drawn?.front && !drawn.side && !drawn.turned && (
            <Widths drawn={drawn} onDrawn={(next) => open.put(next, "front", null, true)} />
          )}
        </>
      )}
    </section>
  );
}

/** Its width, depth and height, where it is drawn by them. */
function Sizes({ open: { drawn, size, grid, typed } }: { open: OpenElevations }) {
  if (!drawn)
    return (
      <p className="text-sm leading-snug">
        {size.map((v) => figure(v, 2)).join(" × ")} {t("stand.elevations.changedByMeasures")}
      </p>
    );
  return (["width", "depth", "height"] as const).map((measure, n) =>
    drawn.turned && n === 1 ? null : (
      <NumberInput
        key={measure}
        label={drawn.turned && n === 0 ? t("stand.elevations.across") : t(`stand.elevations.${measure}`)}
        value={drawn.size_m[n] ?? null}
        least={0.001}
        most={1000}
        step={grid}
        unit="m"
        onValue={(value) => typed(n, value)}
      />
    ),
  );
}

function Grid({ open: { grid, setGrid } }: { open: OpenElevations }) {
  return (
    <ThingSelect
      label={t("stand.elevations.grid")}
      value={grid}
      of={GRIDS.map((step) => [step, `${step} m`])}
      onValue={setGrid}
    />
  );
}

function Divided({ divided: { division, setDivision, bays, setBays } }: { divided: OpenElevations["divided"] }) {
  return (
    <>
      <ThingSelect
        label={t("stand.elevations.dividedIn")}
        value={division}
        of={DIVISIONS.map((one) => [one, t(`stand.elevations.division.${one}`)])}
        onValue={setDivision}
      />
      {division === "bays" && (
        <NumberInput
          label={t("stand.elevations.bays")}
          value={bays}
          digits={0}
          least={2}
          most={40}
          step={1}
          unit=""
          onValue={(n) => n !== null && setBays(Math.round(n))}
        />
      )}
    </>
  );
}

/** Plan, front and side; what is turned looks the same from every side. */
function Views({ open, shown }: { open: OpenElevations; shown: StandElevations }) {
  const { drawn, grid, halves, outline, pulled, put } = open;
  const square = !!drawn && !drawn.turned;
  return (
    <div className="elevation-set">
      <Elevation
        name={t("stand.elevations.plan")}
        strokes={shown.plan.strokes}
        divisions={[shown.divisions[0], shown.divisions[1]]}
        grid={grid}
        from_ground={false}
        pull={square ? pulled(0, 1, true) : undefined}
      />
      {(drawn?.turned ? (["front"] as const) : (["front", "side"] as const)).map((on) => (
        <Elevation
          key={on}
          name={on === "front" ? t("stand.elevations.front") : t("stand.elevations.side")}
          strokes={shown[on].strokes}
          divisions={[shown.divisions[on === "front" ? 0 : 1], shown.divisions[2]]}
          grid={grid}
          from_ground
          outline={outline(on)}
          pull={square && !outline(on) ? pulled(on === "front" ? 0 : 1, 2, false) : undefined}
          half={halves.includes(on) || !!drawn?.turned}
          closed={!drawn?.turned}
          onOutline={(next, held, done) => drawn && put({ ...drawn, [on]: next }, on, held, done)}
        >
          {square && <OutlineTools on={on} open={open} />}
        </Elevation>
      ))}
    </div>
  );
}

/** A face is a rectangle, or has an outline whose halves may be alike. */
function OutlineTools({ on, open: { outline, halves, alike, begin, rectangle } }: { on: On; open: OpenElevations }) {
  if (!outline(on))
    return (
      <button type="button" className="btn btn-sm" onClick={() => begin(on)}>
        {t("stand.elevations.drawItsOutline")}
      </button>
    );
  return (
    <>
      <Tick
        className="flex items-center gap-1.5 text-sm"
        checked={halves.includes(on)}
        onTick={(ticked) => alike(on, ticked)}
      >
        {t("stand.elevations.halvesAlike")}
      </Tick>
      <button type="button" className="btn btn-sm" onClick={() => rectangle(on)}>
        {t("stand.elevations.rectangle")}
      </button>
    </>
  );
}

/** Sections: at a share of its length the thing is so deep. */
function Widths({ drawn, onDrawn }: { drawn: DrawnElevations; onDrawn: (drawn: DrawnElevations) => void }) {
  const widths = drawn.widths ?? [];
  const put = (n: number, next: [number, number] | null) =>
    onDrawn({
      ...drawn,
      widths: widths.flatMap((old, i): [number, number][] =>
        i === n ? (next ? [next] : []) : [old as [number, number]],
      ),
    });
  return (
    <div className="thing-part">
      <h3 className="text-sm font-semibold">{t("stand.elevations.sections")}</h3>
      {widths.map(([share, deep], n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sections are told by their order
        <span key={n} className="flex flex-wrap items-center gap-2">
          <NumberInput
            label={t("stand.elevations.at")}
            value={share}
            least={0}
            most={1}
            step={0.05}
            unit={t("stand.elevations.ofItsLength")}
            onValue={(v) => v !== null && put(n, [v, deep])}
          />
          <NumberInput
            label={t("stand.elevations.deep")}
            value={deep}
            least={0.001}
            most={drawn.size_m[1]}
            step={0.01}
            unit="m"
            onValue={(v) => v !== null && put(n, [share, v])}
          />
          <IconButton
            icon={X}
            label={t("stand.elevations.takeSectionAway", { value: n + 1 })}
            size={14}
            onClick={() => put(n, null)}
          />
        </span>
      ))}
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => onDrawn({ ...drawn, widths: [...widths, [widths.length === 0 ? 0 : 1, drawn.size_m[1] / 2]] })}
      >
        {t("stand.elevations.aSectionMore")}
      </button>
    </div>
  );
}
