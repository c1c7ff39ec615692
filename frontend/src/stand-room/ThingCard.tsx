import { Copy, Plus, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { StandFile, StandThing } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { NumberInput } from "../ui/NumberInput";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { changeThing, nameOf, seatsFor, stack } from "./edits";
import { CHIMNEY, KINDS, MEASURES, PARTS } from "./fields";
import { Measures } from "./Measures";
import { ThingSelect } from "./ThingSelect";

const ROOFS = {
  flat: t("stand.thingCard.flatRoof"),
  pent: t("stand.thingCard.pentRoof"),
  gabled: t("stand.thingCard.gabledRoof"),
  hipped: t("stand.thingCard.hippedRoof"),
};
const WALLS = ["front", "right", "back", "left"] as const;

interface ThingCardProps {
  file: StandFile;
  thing: StandThing;
  onFile: (file: StandFile) => void;
  onRemove: () => void;
  onCopy: () => void;
  children: ReactNode;
}

/** The chosen thing: its name, place and measures, and what can be done with it. */
export function ThingCard({ file, thing, onFile, onRemove, onCopy, children }: ThingCardProps) {
  const change = (next: Partial<StandThing>) => onFile(changeThing(file, thing.id, next));
  const put = (next: StandThing) => change(next);
  return (
    <section
      aria-label={t("stand.thingCard.chosen", { name: nameOf(thing) })}
      className="thing-card"
      data-testid="thing-card"
    >
      <ThingHead thing={thing} onName={(name) => change({ name })} onCopy={onCopy} onRemove={onRemove} />
      <Measures record={thing} measures={MEASURES[thing.kind]} onRecord={put} />
      {thing.kind === "section" ? (
        <SectionPlace file={file} thing={thing} onChange={change} />
      ) : (
        <Place file={file} thing={thing} onChange={change} onFile={onFile} />
      )}
      {"bands_m" in thing && (
        <NumberList
          label={t("stand.thingCard.bandsAtM")}
          values={thing.bands_m ?? []}
          onValues={(bands_m) => change({ bands_m } as Partial<StandThing>)}
        />
      )}
      {thing.kind === "building" && <BuildingParts thing={thing} onThing={put} />}
      {thing.kind === "hull" && <Stations thing={thing} onThing={put} />}
      {children}
    </section>
  );
}

interface ThingHeadProps {
  thing: StandThing;
  onName: (name: string) => void;
  onCopy: () => void;
  onRemove: () => void;
}

function ThingHead({ thing, onName, onCopy, onRemove }: ThingHeadProps) {
  return (
    <div className="flex items-center gap-1">
      <InlineName label={t("stand.thingCard.name")} name={nameOf(thing)} onName={onName} look="font-semibold" />
      <span className="grow text-sm">{KINDS[thing.kind]}</span>
      {thing.kind !== "section" && (
        <IconButton
          icon={Copy}
          label={t("stand.thingCard.another", { name: nameOf(thing) })}
          size={16}
          onClick={onCopy}
        />
      )}
      <IconButton
        icon={Trash2}
        label={t("stand.thingCard.takeOff", { name: nameOf(thing) })}
        title={t("stand.thingCard.takeOffHint")}
        size={16}
        onClick={onRemove}
      />
    </div>
  );
}

type Section = Extract<StandThing, { kind: "section" }>;

interface SectionPlaceProps {
  file: StandFile;
  thing: Section;
  onChange: (next: Partial<Section>) => void;
}

/** What a section cuts through, and which way. */
function SectionPlace({ file, thing, onChange }: SectionPlaceProps) {
  return (
    <div className="thing-fields">
      <ThingSelect
        label={t("stand.thingCard.through")}
        value={thing.of}
        of={(file.things ?? []).filter((one) => one.kind !== "section").map((one) => [one.id, nameOf(one)])}
        onValue={(of) => onChange({ of })}
      />
      <ThingSelect
        label={t("stand.thingCard.squareToIts")}
        value={thing.along}
        of={[
          ["x", t("stand.thingCard.width")],
          ["y", t("stand.thingCard.depth")],
          ["z", t("stand.thingCard.height")],
        ]}
        onValue={(along) => onChange({ along })}
      />
    </div>
  );
}

const FAR = { least: -10_000, most: 10_000, step: 0.05, unit: "m" };

type Choice = [string, string];

interface PlaceProps {
  file: StandFile;
  thing: Exclude<StandThing, Section>;
  onChange: (next: Partial<StandThing>) => void;
  onFile: (file: StandFile) => void;
}

/** Where a thing stands and which way it is turned. */
function Place({ file, thing, onChange, onFile }: PlaceProps) {
  const [x, y] = thing.at_m ?? [0, 0];
  return (
    <div className="thing-fields">
      <NumberInput
        label={t("stand.thingCard.right")}
        value={x}
        {...FAR}
        onValue={(v) => v !== null && onChange({ at_m: [v, y] })}
      />
      <NumberInput
        label={t("stand.thingCard.away")}
        value={y}
        {...FAR}
        onValue={(v) => v !== null && onChange({ at_m: [x, v] })}
      />
      <NumberInput
        label={t("stand.thingCard.turned")}
        value={thing.turn_deg ?? 0}
        least={-360}
        most={360}
        step={5}
        unit="°"
        onValue={(turn_deg) => turn_deg !== null && onChange({ turn_deg })}
      />
      {!thing.on && (
        <NumberInput
          label={t("stand.thingCard.aboveGround")}
          value={thing.base_m ?? 0}
          {...FAR}
          onValue={(base_m) => base_m !== null && onChange({ base_m })}
        />
      )}
      <ThingSelect
        label={t("stand.thingCard.standsOn")}
        value={thing.on ?? ""}
        of={[
          ["", t("stand.thingCard.theGround")],
          ...seatsFor(file, thing.id).map((one): Choice => [one.id, nameOf(one)]),
        ]}
        onValue={(on) => onFile(stack(file, thing.id, on || null))}
      />
    </div>
  );
}

type Building = Extract<StandThing, { kind: "building" }>;

function BuildingParts({ thing, onThing }: { thing: Building; onThing: (thing: Building) => void }) {
  return (
    <>
      <ThingSelect
        label={t("stand.thingCard.roof")}
        value={thing.roof ?? "gabled"}
        of={Object.entries(ROOFS) as [keyof typeof ROOFS, string][]}
        onValue={(roof) => onThing({ ...thing, roof })}
      />
      {(["openings", "flights"] as const).map((part) => (
        <div key={part} className="thing-part">
          {(thing[part] ?? []).map((one, n) => {
            const put = (next: object | null) =>
              onThing({
                ...thing,
                [part]: (thing[part] ?? []).flatMap((o, i) => (i === n ? (next ? [next] : []) : [o])),
              });
            const name = `${PARTS[part].name} ${n + 1}`;
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: parts have no names of their own
              <fieldset key={n} className="thing-piece">
                <legend>{name}</legend>
                <select
                  className="select select-sm"
                  aria-label={t("stand.thingCard.wallOf", { name })}
                  value={one.wall}
                  onChange={(e) => put({ ...one, wall: e.target.value })}
                >
                  {WALLS.map((wall) => (
                    <option key={wall}>{wall}</option>
                  ))}
                </select>
                <Measures record={one as object} measures={PARTS[part].measures} onRecord={put} />
                <IconButton
                  icon={Trash2}
                  label={t("stand.thingCard.takeAway", { name })}
                  size={16}
                  onClick={() => put(null)}
                />
              </fieldset>
            );
          })}
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => onThing({ ...thing, [part]: [...(thing[part] ?? []), PARTS[part].fresh] })}
          >
            <Plus size={14} /> {part === "openings" ? t("stand.thingCard.doorOrWindow") : t("stand.thingCard.steps")}
          </button>
        </div>
      ))}
      <Tick
        className="flex items-center gap-2 text-sm"
        checked={!!thing.chimney}
        onTick={(on) => onThing({ ...thing, chimney: on ? { at_m: [0, 0], size_m: [0.5, 0.5], above_m: 0.6 } : null })}
      >
        {t("stand.thingCard.chimney")}
      </Tick>
      {thing.chimney && (
        <Measures record={thing.chimney} measures={CHIMNEY} onRecord={(chimney) => onThing({ ...thing, chimney })} />
      )}
    </>
  );
}

type Hull = Extract<StandThing, { kind: "hull" }>;

/** The sections of a hull: where each stands along its length, and its half from the keel up. */
function Stations({ thing, onThing }: { thing: Hull; onThing: (thing: Hull) => void }) {
  return (
    <div className="thing-part">
      {thing.stations.map((station, n) => (
        <StationPiece
          // biome-ignore lint/suspicious/noArrayIndexKey: sections are told by their order
          key={n}
          number={n + 1}
          station={station}
          onStation={(next) => onThing({ ...thing, stations: thing.stations.map((old, i) => (i === n ? next : old)) })}
        />
      ))}
    </div>
  );
}

type Station = Hull["stations"][number];

interface StationPieceProps {
  number: number;
  station: Station;
  onStation: (station: Station) => void;
}

/** A section across a hull: where it stands, and the points of its half. */
function StationPiece({ number, station: [x, half], onStation }: StationPieceProps) {
  const put = (k: number, point: Station[1][number]) => onStation([x, half.map((old, i) => (i === k ? point : old))]);
  return (
    <fieldset className="thing-piece">
      <legend>{t("stand.thingCard.section", { value: number })}</legend>
      <NumberInput
        label={t("stand.thingCard.along")}
        value={x}
        {...FAR}
        step={0.1}
        onValue={(v) => v !== null && onStation([v, half])}
      />
      {half.map(([out, up], k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: points of a section are told by their order
        <span key={k} className="flex gap-2">
          <NumberInput
            label={t("stand.thingCard.out")}
            value={out}
            least={0}
            most={10_000}
            step={0.05}
            unit="m"
            onValue={(v) => v !== null && put(k, [v, up])}
          />
          <NumberInput
            label={t("stand.thingCard.up")}
            value={up}
            {...FAR}
            step={0.05}
            onValue={(v) => v !== null && put(k, [out, v])}
          />
        </span>
      ))}
    </fieldset>
  );
}

interface NumberListProps {
  label: string;
  values: number[];
  onValues: (values: number[]) => void;
}

function NumberList({ label, values, onValues }: NumberListProps) {
  const shown = values.join(", ");
  return (
    <label className="thing-select">
      {label}
      <input
        key={shown}
        className="input input-sm"
        defaultValue={shown}
        placeholder={t("stand.thingCard.none")}
        onBlur={(event) => {
          const typed = event.target.value
            .split(/[\s,;]+/)
            .filter(Boolean)
            .map(Number);
          if (event.target.value !== shown && typed.every((v) => v > 0)) onValues(typed);
          else event.target.value = shown;
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
    </label>
  );
}
