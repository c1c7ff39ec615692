import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import {
  type Along,
  type Family,
  isEdge,
  isReading,
  type PartAlong,
  type Plane,
  type Sheet,
  type Sighting,
} from "../api/types";
import { formsOf, slopesOf } from "../sheet/edits";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { FAMILIES, PLANES } from "../ui/marks";
import { t } from "../words";
import { MetresInput } from "./AidCard";
import type { SlipActions } from "./Slip";

type Of<Kind extends Sighting["kind"]> = Extract<Sighting, { kind: Kind }>;

interface SlipChangeProps {
  sheet: Sheet;
  sighting: Sighting;
  first: boolean;
  last: boolean;
  actions: SlipActions;
}

/** What can be changed about a sighting that is chosen. */
export function SlipChange({ sheet, sighting, first, last, actions }: SlipChangeProps) {
  const name = sighting.name ?? sighting.id;
  const judged = judgedOf(sighting);
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-t border-base-300 px-2.5 py-1.5">
      <div className="w-full">
        <InlineName
          label={t("sighting.slip.name")}
          name={name}
          onName={(next) => actions.rename(sighting.id, next)}
          look="name-field"
        />
      </div>
      {judged && <JudgedOnPaper {...judged} onValue={(value) => actions.judged(sighting.id, value)} />}
      {sighting.kind === "edge" && <EdgeChange sheet={sheet} sighting={sighting} actions={actions} />}
      {sighting.kind === "rim" && <RimChange sighting={sighting} actions={actions} />}
      <MeasureChange sighting={sighting} actions={actions} />
      {sighting.kind !== "division" && formsOf(sheet).length > 1 && (
        <select
          className="select select-sm w-28"
          aria-label={t("sighting.slip.form")}
          value={sighting.form ?? ""}
          onChange={(event) => actions.form(sighting.id, event.target.value)}
        >
          {formsOf(sheet).map((f) => (
            <option key={f.id} value={f.id}>
              {f.name ?? f.id}
            </option>
          ))}
        </select>
      )}
      <SlipPlace {...{ first, last, actions, name }} id={sighting.id} />
    </div>
  );
}

/** An edge: its family, its slope, which ends are hidden; one read from life is laid. */
function EdgeChange({ sheet, sighting, actions }: { sheet: Sheet; sighting: Of<"edge">; actions: SlipActions }) {
  return (
    <>
      <select
        className="select select-sm w-26"
        aria-label={t("sighting.slip.family")}
        value={sighting.family}
        onChange={(event) => actions.family(sighting.id, event.target.value as Family)}
      >
        {Object.entries(FAMILIES).map(([key, mark]) => (
          <option key={key} value={key}>
            {mark.letter} {mark.name}
          </option>
        ))}
      </select>
      {isReading(sighting) && !isEdge(sighting) && (
        <button type="button" className="btn btn-sm btn-primary" onClick={() => actions.layOn(sighting.id)}>
          {t("sighting.slip.layIt")}
        </button>
      )}
      {sighting.family === "slope" && (
        <select
          className="select select-sm w-28"
          aria-label={t("sighting.slip.slope")}
          value={sighting.slope ?? ""}
          onChange={(event) => actions.slope(sighting.id, event.target.value)}
        >
          {slopeChoices(slopesOf(sheet, sighting.form)).map((slope) => (
            <option key={slope} value={slope}>
              {slope}
            </option>
          ))}
        </select>
      )}
      <HiddenEnds edge={sighting} actions={actions} />
    </>
  );
}

/** A rim: its plane, and more points along it. */
function RimChange({ sighting, actions }: { sighting: Of<"rim">; actions: SlipActions }) {
  return (
    <>
      <select
        className="select select-sm w-40"
        aria-label={t("sighting.slip.plane")}
        value={sighting.plane ?? "level"}
        onChange={(event) => actions.plane(sighting.id, event.target.value as Plane)}
      >
        {Object.entries(PLANES).map(([key, mark]) => (
          <option key={key} value={key}>
            {mark.letter} {mark.name}
          </option>
        ))}
      </select>
      <button type="button" className="btn btn-sm" onClick={() => actions.addPoints(sighting.id)} title="P">
        {t("sighting.slip.addPoints")}
      </button>
    </>
  );
}

/** What is measured: along what, the unit, a height that is known. */
function MeasureChange({ sighting, actions }: { sighting: Sighting; actions: SlipActions }) {
  return (
    <>
      {(sighting.kind === "length" || sighting.kind === "division") && (
        <select
          className="select select-sm w-36"
          aria-label={t("sighting.slip.measured")}
          value={sighting.along ?? (sighting.kind === "length" ? "edge" : "across")}
          onChange={(event) => actions.along(sighting.id, event.target.value as Along | PartAlong)}
        >
          {Object.entries(sighting.kind === "length" ? ALONG : PART_ALONG).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      )}
      {sighting.kind === "length" && !sighting.unit && (
        <button type="button" className="btn btn-sm" onClick={() => actions.unit(sighting.id)}>
          {t("sighting.slip.makeUnit")}
        </button>
      )}
      {sighting.kind === "height" && (
        <span className="flex items-center gap-1.5 text-[13px]">
          {t("sighting.slip.known")}
          <MetresInput
            label={t("sighting.slip.knownHeight")}
            value={sighting.known_m ?? null}
            onValue={(metres) => actions.known(sighting.id, metres)}
          />
          m
        </span>
      )}
    </>
  );
}

const ALONG: Record<Along, string> = {
  edge: t("sighting.slip.alongTheEdge"),
  across: t("sighting.slip.straightAcross"),
  upright: t("sighting.slip.straightUp"),
};
const PART_ALONG: Record<PartAlong, string> = {
  across: t("sighting.slip.acrossTheFace"),
  up: t("sighting.slip.upTheFace"),
};

interface JudgedField {
  value: number | null;
  least: number;
  most: number;
  step: number;
  unit: string;
}

/** What of a sighting can be judged, and in what. */
function judgedOf(s: Sighting): JudgedField | null {
  const tilt = { least: -90, most: 90, step: 0.5, unit: "°" };
  if (s.kind === "edge") return { value: s.judged_tilt_deg ?? null, ...tilt };
  if (s.kind === "rim") return { value: s.judged_degree_deg ?? null, ...tilt, least: 0 };
  if (s.kind === "alignment") return s.along === "tilt" ? { value: s.judged_tilt_deg ?? null, ...tilt } : null;
  if (s.kind === "length")
    return s.unit
      ? null
      : { value: s.judged_ratio ?? null, least: 0.01, most: 1000, step: 0.01, unit: t("sighting.slip.units") };
  if (s.kind === "division") return { value: s.judged_part ?? null, least: -1, most: 2, step: 0.01, unit: "" };
  return s.kind === "height" ? { value: s.judged_m ?? null, least: 0.01, most: 1000, step: 0.05, unit: "m" } : null;
}

/** A judgement that was made on paper, or elsewhere, typed in later. */
function JudgedOnPaper({
  value,
  least,
  most,
  step,
  unit,
  onValue,
}: JudgedField & {
  onValue: (value: number | null) => void;
}) {
  return (
    <label className="flex items-center gap-1.5 text-[13px]">
      {t("sighting.slip.judged")}
      <input
        type="number"
        className="input input-sm w-20"
        min={least}
        max={most}
        step={step}
        defaultValue={value ?? ""}
        key={value}
        onBlur={(event) => {
          const typed = event.target.value === "" ? null : Number(event.target.value);
          if (typed !== value && (typed === null || (typed >= least && typed <= most))) onValue(typed);
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      {unit}
    </label>
  );
}

function slopeChoices(known: string[]): string[] {
  let n = 1;
  while (known.includes(`slope-${n}`)) n += 1;
  return [...known, `slope-${n}`];
}

function HiddenEnds({ edge, actions }: { edge: Of<"edge">; actions: SlipActions }) {
  return (
    <span className="flex items-center gap-2 text-[13px]">
      {t("sighting.slip.hiddenBehindSomething")}
      {(["p", "q"] as const).map((tip, n) => (
        <label key={tip} className="flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={edge.hidden?.includes(tip) ?? false}
            onChange={(event) => actions.hidden(edge.id, tip, event.target.checked)}
          />
          {n === 0 ? t("sighting.slip.firstEnd") : t("sighting.slip.secondEnd")}
        </label>
      ))}
    </span>
  );
}

interface SlipPlaceProps extends Pick<SlipChangeProps, "first" | "last" | "actions"> {
  id: string;
  name: string;
}

/** Where a slip stands among the others, and the way off the sheet. */
function SlipPlace({ id, name, first, last, actions }: SlipPlaceProps) {
  return (
    <span className="ml-auto flex">
      <IconButton
        icon={ArrowUp}
        label={t("sighting.slip.moveUp")}
        size={16}
        disabled={first}
        onClick={() => actions.reorder(id, -1)}
      />
      <IconButton
        icon={ArrowDown}
        label={t("sighting.slip.moveDown")}
        size={16}
        disabled={last}
        onClick={() => actions.reorder(id, 1)}
      />
      <IconButton
        icon={Trash2}
        label={t("sighting.slip.delete", { name })}
        size={16}
        onClick={() => actions.remove(id)}
      />
    </span>
  );
}
