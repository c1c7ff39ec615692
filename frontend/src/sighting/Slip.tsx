import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import type { Family, Finding, Ladder, Plane, Sheet, Sighting } from "../api/types";
import { formsOf, slopesOf } from "../sheet/edits";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { FAMILIES, PLANES, VERDICTS } from "../ui/marks";
import { RimFigures, RimsByHeight, Triple } from "./Figures";

export interface SlipActions {
  select: (id: string | null) => void;
  family: (id: string, family: Family) => void;
  plane: (id: string, plane: Plane) => void;
  addPoints: (id: string) => void;
  slope: (id: string, slope: string) => void;
  form: (id: string, form: string) => void;
  rename: (id: string, name: string) => void;
  judged: (id: string, value: number | null) => void;
  remove: (id: string) => void;
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
  first,
  last,
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
  first: boolean;
  last: boolean;
  actions: SlipActions;
  /** What else an opened slip offers. */
  children?: ReactNode;
}) {
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (chosen) item.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const family = sighting.kind === "edge" ? FAMILIES[sighting.family] : null;
  const verdict = finding ? VERDICTS[finding.verdict] : null;
  const form = formsOf(sheet).find((f) => f.id === sighting.form);
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
          {family && (
            <svg width="34" height="16" aria-hidden="true" className="shrink-0">
              <line x1="14" y1="8" x2="34" y2="8" stroke={family.ink} strokeWidth="2.4" strokeDasharray={family.dash} />
              <text x="0" y="13" className="slip-letter">
                {family.letter}
              </text>
            </svg>
          )}
          <span className="grow truncate font-semibold">{name}</span>
          {verdict && finding && !resting && (
            <span className={`verdict verdict-${finding.verdict}`}>
              <span aria-hidden="true">{verdict.mark}</span> {verdict.word}
            </span>
          )}
        </span>
        {!resting && (
          <span className="mt-1 flex items-center gap-3">
            <Triple sighting={sighting} finding={finding} />
          </span>
        )}
      </button>
      {finding && !resting && (chosen || finding.verdict !== "holds") && (
        <p className="px-2.5 pb-1.5 text-[13px] leading-snug">{finding.words}</p>
      )}
      {chosen && !resting && finding?.rim && <RimFigures finding={finding} />}
      {chosen && !resting && sighting.kind === "rim" && sighting.plane === "level" && ladder && (
        <RimsByHeight ladder={ladder} />
      )}
      {chosen && !resting && (
        <div className="flex flex-wrap items-center gap-1.5 border-t border-base-300 px-2.5 py-1.5">
          <div className="w-full">
            <InlineName
              label="Name"
              name={name}
              onName={(next) => actions.rename(sighting.id, next)}
              look="name-field"
            />
          </div>
          {(sighting.kind === "edge" || sighting.kind === "rim") && (
            <JudgedOnPaper
              value={(sighting.kind === "edge" ? sighting.judged_tilt_deg : sighting.judged_degree_deg) ?? null}
              least={sighting.kind === "edge" ? -90 : 0}
              onValue={(value) => actions.judged(sighting.id, value)}
            />
          )}
          {sighting.kind === "edge" && (
            <select
              className="select select-sm w-26"
              aria-label="Family"
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
                aria-label="Plane"
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
                Add points
              </button>
            </>
          )}
          {sighting.kind === "edge" && sighting.family === "slope" && (
            <select
              className="select select-sm w-28"
              aria-label="Slope"
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
          {formsOf(sheet).length > 1 && (
            <select
              className="select select-sm w-28"
              aria-label="Form"
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
              label="Move up"
              size={16}
              disabled={first}
              onClick={() => actions.reorder(sighting.id, -1)}
            />
            <IconButton
              icon={ArrowDown}
              label="Move down"
              size={16}
              disabled={last}
              onClick={() => actions.reorder(sighting.id, 1)}
            />
            <IconButton icon={Trash2} label={`Delete ${name}`} size={16} onClick={() => actions.remove(sighting.id)} />
          </span>
        </div>
      )}
      {chosen && !resting && children}
      {!chosen && form && formsOf(sheet).length > 1 && <p className="sr-only">{form.name}</p>}
    </li>
  );
}

/** A judgement that was made on paper, or elsewhere, typed in later: degrees from level, or of the ellipse. */
function JudgedOnPaper({
  value,
  least,
  onValue,
}: {
  value: number | null;
  least: number;
  onValue: (value: number | null) => void;
}) {
  return (
    <label className="flex items-center gap-1.5 text-[13px]">
      judged
      <input
        type="number"
        className="input input-sm w-20"
        min={least}
        max={90}
        step={0.5}
        defaultValue={value ?? ""}
        key={value}
        onBlur={(event) => {
          const typed = event.target.value === "" ? null : Number(event.target.value);
          if (typed !== value && (typed === null || (typed >= least && typed <= 90))) onValue(typed);
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      °
    </label>
  );
}

function slopeChoices(known: string[]): string[] {
  let n = 1;
  while (known.includes(`slope-${n}`)) n += 1;
  return [...known, `slope-${n}`];
}
