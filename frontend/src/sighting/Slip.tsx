import { t } from "../words";
import "../sheet/sheet.css";
import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import {
  type Along,
  type Family,
  type Finding,
  isEdge,
  isReading,
  type Ladder,
  type PartAlong,
  type Plane,
  type Sheet,
  type Sighting,
} from "../api/types";
import { formsOf, isProposed, slopesOf } from "../sheet/edits";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { FAMILIES, PLANES } from "../ui/marks";
import { VerdictWord } from "../ui/VerdictWord";
import { MetresInput } from "./AidCard";
import { RimFigures, RimsByHeight, Triple, type Truth } from "./Figures";

export interface SlipActions {
  select: (id: string | null) => void;
  family: (id: string, family: Family) => void;
  plane: (id: string, plane: Plane) => void;
  addPoints: (id: string) => void;
  /** Lay on the photo what was read from life. */
  layOn: (id: string) => void;
  slope: (id: string, slope: string) => void;
  along: (id: string, along: Along | PartAlong) => void;
  unit: (id: string) => void;
  known: (id: string, metres: number | null) => void;
  hidden: (id: string, tip: "p" | "q", cut: boolean) => void;
  form: (id: string, form: string) => void;
  rename: (id: string, name: string) => void;
  judged: (id: string, value: number | null) => void;
  remove: (id: string) => void;
  accept: (ids: string[]) => void;
  /** Judge a proposal by eye; it is accepted with that. */
  judge: (id: string) => void;
  strikeOut: (ids: string[]) => void;
  reorder: (id: string, by: -1 | 1) => void;
}

/** One sighting: its three values, verdict and reason; opened, what can be changed about it. */
export function Slip({
  sheet,
  sighting,
  finding,
  ladder,
  chosen,
  resting,
  truth = null,
  first,
  last,
  judgeFirst,
  actions,
  children,
}: {
  sheet: Sheet;
  sighting: Sighting;
  finding: Finding | undefined;
  ladder: Ladder | null;
  chosen: boolean;
  /** While a judgement is made no slip gives an answer away. */
  resting: boolean;
  truth?: Truth | null;
  first: boolean;
  last: boolean;
  /** Whether a proposal is judged before it is accepted. */
  judgeFirst: boolean;
  actions: SlipActions;
  /** What else an opened slip offers. */
  children?: ReactNode;
}) {
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (chosen) item.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const family = sighting.kind === "edge" ? FAMILIES[sighting.family] : null;
  const form = sighting.kind === "division" ? null : formsOf(sheet).find((f) => f.id === sighting.form);
  const name = sighting.name ?? sighting.id;
  return (
    <li
      ref={item}
      className={`slip rounded-box border ${chosen ? "slip-chosen" : "border-base-300 bg-base-100"}`}
      data-sighting={sighting.id}
    >
      <button
        type="button"
        className="block w-full cursor-pointer px-2.5 pt-1.5 pb-1 text-left"
        aria-pressed={chosen}
        onClick={() => actions.select(chosen ? null : sighting.id)}
      >
        <span className="flex items-center gap-2">
          {sighting.kind === "rim" && (
            <span className="slip-letter shrink-0" aria-hidden="true">
              {PLANES[sighting.plane ?? "level"].letter}
            </span>
          )}
          {MEASURE_LETTERS[sighting.kind] && (
            <span className="slip-letter shrink-0" aria-hidden="true">
              {MEASURE_LETTERS[sighting.kind]}
            </span>
          )}
          {family && (
            <svg width="34" height="16" aria-hidden="true" className="shrink-0">
              <line x1="14" y1="8" x2="34" y2="8" stroke={family.ink} strokeWidth="2.4" strokeDasharray={family.dash} />
              <text x="0" y="13" className="slip-letter">
                {family.letter}
              </text>
            </svg>
          )}
          <span className="grow truncate font-semibold">{name}</span>
          {finding && !resting && <VerdictWord of={finding.verdict} measure={finding.measure} />}
        </span>
        {!resting && !isProposed(sighting) && (
          <span className="mt-1 flex items-center gap-3">
            <Triple sighting={sighting} finding={finding} truth={truth} />
          </span>
        )}
      </button>
      {isProposed(sighting) && (
        <p className="flex items-center gap-1.5 px-2.5 pb-1.5 text-[13px]">
          <span className="grow">
            {t("sighting.slip.proposedSureTo", { percent: Math.round((sighting.confidence ?? 0) * 100) })}
          </span>
          {judgeFirst ? (
            <button type="button" className="btn btn-xs btn-primary" onClick={() => actions.judge(sighting.id)}>
              {t("sighting.slip.judgeIt")}
            </button>
          ) : (
            <button type="button" className="btn btn-xs btn-primary" onClick={() => actions.accept([sighting.id])}>
              {t("sighting.slip.accept")}
            </button>
          )}
          <button type="button" className="btn btn-xs" onClick={() => actions.strikeOut([sighting.id])}>
            {t("sighting.slip.strikeOut")}
          </button>
        </p>
      )}
      {finding && !resting && (chosen || finding.verdict !== "holds") && (
        <p className="px-2.5 pb-1.5 text-[13px] leading-snug">{finding.words}</p>
      )}
      {chosen && !resting && finding?.skill && (
        <p className="px-2.5 pb-1.5 text-[13px]">{t("sighting.slip.inTheLogbook", { skill: finding.skill })}</p>
      )}
      {chosen && !resting && finding?.rim && <RimFigures finding={finding} />}
      {chosen && !resting && sighting.kind === "rim" && sighting.plane === "level" && ladder && (
        <RimsByHeight ladder={ladder} />
      )}
      {chosen && !resting && (
        <div className="flex flex-wrap items-center gap-1.5 border-t border-base-300 px-2.5 py-1.5">
          <div className="w-full">
            <InlineName
              label={t("sighting.slip.name")}
              name={name}
              onName={(next) => actions.rename(sighting.id, next)}
              look="name-field"
            />
          </div>
          {judgedOf(sighting) && (
            <JudgedOnPaper
              {...(judgedOf(sighting) as JudgedField)}
              onValue={(value) => actions.judged(sighting.id, value)}
            />
          )}
          {sighting.kind === "edge" && (
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
          )}
          {sighting.kind === "rim" && (
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
          )}
          {sighting.kind === "edge" && isReading(sighting) && !isEdge(sighting) && (
            <button type="button" className="btn btn-sm btn-primary" onClick={() => actions.layOn(sighting.id)}>
              {t("sighting.slip.layIt")}
            </button>
          )}
          {sighting.kind === "edge" && sighting.family === "slope" && (
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
          {sighting.kind === "edge" && (
            <span className="flex items-center gap-2 text-[13px]">
              {t("sighting.slip.hiddenBehindSomething")}
              {(["p", "q"] as const).map((tip, n) => (
                <label key={tip} className="flex items-center gap-1">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    checked={sighting.hidden?.includes(tip) ?? false}
                    onChange={(event) => actions.hidden(sighting.id, tip, event.target.checked)}
                  />
                  {n === 0 ? t("sighting.slip.firstEnd") : t("sighting.slip.secondEnd")}
                </label>
              ))}
            </span>
          )}
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
          <span className="ml-auto flex">
            <IconButton
              icon={ArrowUp}
              label={t("sighting.slip.moveUp")}
              size={16}
              disabled={first}
              onClick={() => actions.reorder(sighting.id, -1)}
            />
            <IconButton
              icon={ArrowDown}
              label={t("sighting.slip.moveDown")}
              size={16}
              disabled={last}
              onClick={() => actions.reorder(sighting.id, 1)}
            />
            <IconButton
              icon={Trash2}
              label={t("sighting.slip.delete", { name })}
              size={16}
              onClick={() => actions.remove(sighting.id)}
            />
          </span>
        </div>
      )}
      {chosen && !resting && children}
      {!chosen && form && formsOf(sheet).length > 1 && <p className="sr-only">{form.name}</p>}
    </li>
  );
}

/** What is measured beside edges and rims is told apart by a sign. */
const MEASURE_LETTERS: Partial<Record<Sighting["kind"], string>> = {
  length: "↔",
  alignment: "┆",
  face: "▱",
  division: "◆",
  height: "↥",
};
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
    return s.unit ? null : { value: s.judged_ratio ?? null, least: 0.01, most: 1000, step: 0.01, unit: "units" };
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
