import { X } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type ApiError, call } from "../api/client";
import { newest } from "../api/newest";
import type { DrawnElevations, Outlined, Point, StandElevations, StandThing } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { figure } from "../ui/locale";
import { NumberInput } from "../ui/NumberInput";
import { t } from "../words";
import { Elevation } from "./Elevation";
import { nameOf } from "./edits";

type On = "front" | "side";
type Asked = NonNullable<Parameters<typeof ask>[0]>;
const GRIDS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.25, 0.5];
const LEAST_GRID = 0.005;
const STEPS_ACROSS = 16; // of the grid, at least, across a thing's largest size
const DIVISIONS = ["none", "halves", "thirds", "quarters", "bays"] as const;

const ask = (body: {
  thing: StandThing;
  drawn?: DrawnElevations | null;
  by?: On | null;
  held?: number | null;
  grid_m?: number | null;
  symmetrical?: On[];
  divisions?: "halves" | "thirds" | "quarters" | null;
  bays?: number | null;
  typed?: [number, number, number] | null;
}) => call("post", "/api/stand/elevations", { body, again: true });

/** A thing's plan, front and side beside the view: points are drawn, sizes typed, and the thing follows. */
export function Elevations({
  thing,
  onThing,
  onClose,
}: {
  thing: StandThing;
  onThing: (thing: StandThing, done: boolean) => void;
  onClose: () => void;
}) {
  const [shown, setShown] = useState<StandElevations | null>(null);
  const [fault, setFault] = useState("");
  const [picked, setGrid] = useState<number | null>(null);
  const [halves, setHalves] = useState<On[]>([]);
  const [division, setDivision] = useState<(typeof DIVISIONS)[number]>("none");
  const [bays, setBays] = useState(5);
  const [questions] = useState(newest);
  // what a drag has shown and not kept yet
  const live = useRef<StandThing | null>(null);
  // what it is drawn on: the thing as it was kept last, not as a drag has it for now
  const base = useRef(thing);
  if (live.current === null) base.current = thing;
  const parts = useMemo(
    () => ({
      divisions: division === "none" || division === "bays" ? null : division,
      bays: division === "bays" ? bays : null,
    }),
    [division, bays],
  );

  /** What is refused is said, and the thing stays as it was. */
  const send = useCallback(
    (body: Asked, done: boolean, change: boolean) =>
      questions.ask(async () => {
        try {
          const found = await ask(body);
          setShown(found);
          // it stays as it is while the thing grows under the hand
          setGrid((old) => old ?? gridFor(found.size_m));
          setFault("");
          live.current = done ? null : found.thing;
          if (change) onThing(found.thing, done);
        } catch (error) {
          setFault((error as ApiError).message);
          if (!done) return;
          // a drag that ends where nothing can be leaves the thing as it last could
          const last = live.current;
          live.current = null;
          if (last) onThing(last, true);
        }
      }),
    [onThing, questions],
  );

  // the thing may have been changed elsewhere: by undo, or in its fields
  const known = useRef("");
  const key = JSON.stringify([thing, parts]);
  useEffect(() => {
    const told = shown && JSON.stringify([shown.thing, parts]);
    if (known.current === key || told === key || questions.busy()) return;
    known.current = key;
    send({ thing, ...parts }, true, false);
  }, [key, parts, questions, send, shown, thing]);

  const drawn = shown?.drawn ?? null;
  const size = shown?.size_m ?? [1, 1, 1];
  const grid = picked ?? gridFor(size);
  const put = (next: DrawnElevations, by: On, held: number | null, done: boolean, symmetrical = halves) =>
    send({ thing: base.current, drawn: next, by, held, grid_m: grid, symmetrical, ...parts }, done, true);
  const outline = (on: On): Outlined | null => (on === "front" ? drawn?.front : drawn?.side) ?? null;
  const begin = (on: On) => {
    if (!drawn) return;
    const [w, d, h] = drawn.size_m;
    const half = (on === "front" ? w : d) / 2;
    const ring: Point[] = [
      [half, 0],
      [half, h],
      [-half, h],
      [-half, 0],
    ];
    put({ ...drawn, [on]: { points: ring, smooth: [] } }, on, null, true);
  };
  const typed = (n: number, value: number | null, done = true, grid_m: number | null = null) => {
    if (!drawn || value === null) return;
    const next = drawn.size_m.map((old, i) => (i === n ? value : old)) as [number, number, number];
    send({ thing: base.current, drawn, typed: next, held: grid_m === null ? null : n, grid_m, ...parts }, done, true);
  };
  // a side that is pulled snaps to the grid; both halves of the plan move alike
  const pulled = (across: number, up: number, upHalves: boolean) => ({
    size: [size[across] ?? 1, size[up] ?? 1] as Point,
    halves: upHalves,
    onSize: (way: "across" | "up", value: number, done: boolean) =>
      typed(way === "across" ? across : up, value, done, grid),
  });
  const square = !!drawn && !drawn.turned;
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
            {drawn ? (
              (["width", "depth", "height"] as const).map((label, n) =>
                drawn.turned && n === 1 ? null : (
                  <NumberInput
                    key={label}
                    label={drawn.turned && n === 0 ? t("stand.elevations.across") : label}
                    value={drawn.size_m[n] ?? null}
                    least={0.001}
                    most={1000}
                    step={grid}
                    unit="m"
                    onValue={(value) => typed(n, value)}
                  />
                ),
              )
            ) : (
              <p className="text-sm leading-snug">
                {size.map((v) => figure(v, 2)).join(" × ")} {t("stand.elevations.changedByMeasures")}
              </p>
            )}
            <label className="thing-select">
              {t("stand.elevations.grid")}
              <select className="select select-sm" value={grid} onChange={(e) => setGrid(Number(e.target.value))}>
                {GRIDS.map((step) => (
                  <option key={step} value={step}>
                    {step} m
                  </option>
                ))}
              </select>
            </label>
            <label className="thing-select">
              {t("stand.elevations.dividedIn")}
              <select
                className="select select-sm"
                value={division}
                onChange={(e) => setDivision(e.target.value as typeof division)}
              >
                {DIVISIONS.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
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
          </div>
          <div className="elevation-set">
            <Elevation
              name={t("stand.elevations.plan")}
              strokes={shown.plan.strokes}
              divisions={[shown.divisions[0], shown.divisions[1]]}
              grid={grid}
              from_ground={false}
              pull={square ? pulled(0, 1, true) : undefined}
            />
            {/* what is turned looks the same from every side */}
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
                {drawn && !drawn.turned && (
                  <>
                    {outline(on) ? (
                      <label className="flex items-center gap-1.5 text-sm">
                        <input
                          type="checkbox"
                          className="checkbox checkbox-sm"
                          checked={halves.includes(on)}
                          onChange={(e) => {
                            const next = e.target.checked ? [...halves, on] : halves.filter((one) => one !== on);
                            setHalves(next);
                            if (e.target.checked) put(drawn, on, null, true, next);
                          }}
                        />
                        {t("stand.elevations.halvesAlike")}
                      </label>
                    ) : (
                      <button type="button" className="btn btn-sm" onClick={() => begin(on)}>
                        {t("stand.elevations.drawItsOutline")}
                      </button>
                    )}
                    {outline(on) && (
                      <button
                        type="button"
                        className="btn btn-sm"
                        onClick={() =>
                          send({ thing, drawn: { ...drawn, [on]: null, widths: [], holes: [] }, ...parts }, true, true)
                        }
                      >
                        {t("stand.elevations.rectangle")}
                      </button>
                    )}
                  </>
                )}
              </Elevation>
            ))}
          </div>
          {drawn?.front && !drawn.side && !drawn.turned && (
            <Widths drawn={drawn} onDrawn={(next) => put(next, "front", null, true)} />
          )}
        </>
      )}
    </section>
  );
}

function gridFor(size: [number, number, number]): number {
  return GRIDS.findLast((step) => step * STEPS_ACROSS <= Math.max(...size)) ?? LEAST_GRID;
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
