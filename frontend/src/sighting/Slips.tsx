import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Family, Finding, Ladder, Plane, Report, Sheet, Sighting } from "../api/client";
import { lineAt } from "../stage/geometry";
import { formsOf, sightingsOf, slopesOf } from "./edits";
import { degreesText, FAMILIES, leanText, PLANES, VERDICTS } from "./families";

export interface SlipActions {
  select: (id: string | null) => void;
  family: (id: string, family: Family) => void;
  plane: (id: string, plane: Plane) => void;
  addPoints: (id: string) => void;
  slope: (id: string, slope: string) => void;
  form: (id: string, form: string) => void;
  rename: (id: string, name: string) => void;
  remove: (id: string) => void;
  reorder: (id: string, by: -1 | 1) => void;
}

/** One slip per sighting, in order: judged, sighted, implied, verdict and reason. */
export function Slips({
  sheet,
  report,
  selected,
  actions,
}: {
  sheet: Sheet;
  report: Report;
  selected: string | null;
  actions: SlipActions;
}) {
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const list = sightingsOf(sheet);
  return (
    <ol className="flex flex-col gap-1.5 p-2" aria-label="Slips">
      {list.map((sighting, index) => (
        <Slip
          key={sighting.id}
          sheet={sheet}
          sighting={sighting}
          finding={findings.get(sighting.id)}
          ladder={report.ladders.find((l) => l.form === sighting.form) ?? null}
          chosen={sighting.id === selected}
          first={index === 0}
          last={index === list.length - 1}
          actions={actions}
        />
      ))}
    </ol>
  );
}

function Slip({
  sheet,
  sighting,
  finding,
  ladder,
  chosen,
  first,
  last,
  actions,
}: {
  sheet: Sheet;
  sighting: Sighting;
  finding: Finding | undefined;
  ladder: Ladder | null;
  chosen: boolean;
  first: boolean;
  last: boolean;
  actions: SlipActions;
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
          {verdict && finding && (
            <span className={`verdict verdict-${finding.verdict}`}>
              <span aria-hidden="true">{verdict.mark}</span> {verdict.word}
            </span>
          )}
        </span>
        <span className="mt-1 flex items-center gap-3">
          <Triple sighting={sighting} finding={finding} />
        </span>
      </button>
      {finding && (chosen || finding.verdict !== "holds") && (
        <p className="px-2.5 pb-1.5 text-[13px] leading-snug">{finding.words}</p>
      )}
      {chosen && finding?.rim && <RimFigures finding={finding} />}
      {chosen && sighting.kind === "rim" && sighting.plane === "level" && ladder && <RimsByHeight ladder={ladder} />}
      {chosen && finding?.judged_words && (
        <p className="px-2.5 pb-1.5 text-[13px] leading-snug italic">{finding.judged_words}</p>
      )}
      {chosen && (
        <div className="flex flex-wrap items-center gap-1.5 border-t border-base-300 px-2.5 py-1.5">
          <NameField name={name} onName={(next) => actions.rename(sighting.id, next)} />
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
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label="Move up"
              disabled={first}
              onClick={() => actions.reorder(sighting.id, -1)}
            >
              <ArrowUp size={16} />
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label="Move down"
              disabled={last}
              onClick={() => actions.reorder(sighting.id, 1)}
            >
              <ArrowDown size={16} />
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-sm btn-square"
              aria-label={`Delete ${name}`}
              onClick={() => actions.remove(sighting.id)}
            >
              <Trash2 size={16} />
            </button>
          </span>
        </div>
      )}
      {!chosen && form && formsOf(sheet).length > 1 && <p className="sr-only">{form.name}</p>}
    </li>
  );
}

function slopeChoices(known: string[]): string[] {
  let n = 1;
  while (known.includes(`slope-${n}`)) n += 1;
  return [...known, `slope-${n}`];
}

function NameField({ name, onName }: { name: string; onName: (name: string) => void }) {
  const [text, setText] = useState(name);
  useEffect(() => setText(name), [name]);
  const done = () => {
    if (text.trim() && text !== name) onName(text);
    else setText(name);
  };
  return (
    <input
      className="input input-sm w-full"
      aria-label="Name"
      value={text}
      maxLength={200}
      onChange={(event) => setText(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") {
          setText(name);
          event.stopPropagation();
        }
      }}
    />
  );
}

/** Judged hollow, sighted chalk, implied a fine line; then the three figures. */
function Triple({ sighting, finding }: { sighting: Sighting; finding: Finding | undefined }) {
  const edge = sighting.kind === "edge";
  const rim = sighting.kind === "rim";
  const judged = finding?.judged ?? (edge ? sighting.judged_tilt_deg : rim ? sighting.judged_degree_deg : null);
  const text = (value: number | null | undefined) => {
    if (value === null || value === undefined) return "–";
    if (sighting.kind === "length") return value.toFixed(2);
    if (sighting.kind === "alignment") return `${value.toFixed(0)} px`;
    return degreesText(value);
  };
  const upright = edge && sighting.family === "upright";
  const lean = (value: number | null | undefined) => (value == null ? "–" : leanText(value));
  const spread = (sd: number | null | undefined) =>
    sd && (edge || rim) ? <span className="figure-sd"> ±{sd.toFixed(1)}</span> : null;
  return (
    <>
      {edge && finding && (
        <svg viewBox="-20 -20 40 40" width="38" height="38" aria-hidden="true" className="shrink-0">
          <circle r="19" className="dial-face" />
          <MiniNeedle tilt={judged ?? null} kind="judged" />
          <MiniNeedle tilt={finding.sighted} kind="sighted" />
          <MiniNeedle tilt={finding.implied} kind="implied" />
        </svg>
      )}
      {rim && finding && (
        <svg viewBox="-20 -20 40 40" width="38" height="38" aria-hidden="true" className="shrink-0">
          <circle r="19" className="dial-face" />
          <MiniRim degree={judged ?? null} kind="judged" />
          <MiniRim degree={finding.sighted} kind="sighted" />
          <MiniRim degree={finding.implied} kind="implied" />
        </svg>
      )}
      <span className="grid grow grid-cols-3 text-sm tabular-nums">
        <span>
          <span className="figure-name">judged</span>
          {upright ? lean(finding?.judged_lean_deg) : text(judged)}
        </span>
        <span>
          <span className="figure-name">sighted</span>
          <b>{upright ? lean(finding?.sighted_lean_deg) : text(finding?.sighted)}</b>
          {spread(finding?.sighted_sd)}
        </span>
        <span>
          <span className="figure-name">implied</span>
          {upright ? lean(finding?.implied_lean_deg) : text(finding?.implied)}
          {spread(finding?.implied_sd)}
        </span>
      </span>
    </>
  );
}

/** Where a rim's figures come from: its axis, each side's word, and the guide to reach for. */
function RimFigures({ finding }: { finding: Finding }) {
  const rim = finding.rim;
  if (!rim) return null;
  const alone = [
    rim.by_edges && `edges alone ${degreesText(rim.by_edges.degree_deg)}`,
    rim.by_rims && `other rims alone ${degreesText(rim.by_rims.degree_deg)}`,
  ].filter(Boolean);
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-2 px-2.5 pb-1.5 text-[13px] leading-snug tabular-nums">
      {rim.axis_turn_deg !== null && (
        <>
          <dt>minor axis</dt>
          <dd>
            {Math.abs(rim.axis_turn_deg).toFixed(1)}° ± {(rim.axis_turn_sd ?? 0).toFixed(1)} off the form’s axis
          </dd>
        </>
      )}
      {alone.length > 0 && (
        <>
          <dt>implied by</dt>
          <dd>{alone.join(", ")}</dd>
        </>
      )}
      {rim.guide_deg !== null && finding.verdict !== "holds" && (
        <>
          <dt>guide</dt>
          <dd>nearest ellipse guide {rim.guide_deg}°</dd>
        </>
      )}
    </dl>
  );
}

/** What degree each rim of the form should have, height by height, with the guide to draw it. */
function RimsByHeight({ ladder }: { ladder: Ladder }) {
  return (
    <details className="px-2.5 pb-1.5 text-[13px]">
      <summary className="cursor-pointer">Rims of this form by height</summary>
      <table className="mt-1 w-full tabular-nums">
        <thead>
          <tr className="text-left">
            <th scope="col">units from eye level</th>
            <th scope="col">degree</th>
            <th scope="col">guide</th>
          </tr>
        </thead>
        <tbody>
          {ladder.rungs.map((rung) => (
            <tr key={rung.units}>
              <td>{`${rung.units > 0 ? "+" : rung.units < 0 ? "−" : ""}${Math.abs(rung.units)}`}</td>
              <td>{degreesText(rung.ellipse.degree_deg)}</td>
              <td>{rung.guide_deg === null ? "–" : `${rung.guide_deg}°`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function MiniRim({ degree, kind }: { degree: number | null; kind: "judged" | "sighted" | "implied" }) {
  if (degree === null) return null;
  const shape = { rx: 15, ry: Math.max(0.3, 15 * Math.sin((degree * Math.PI) / 180)) };
  if (kind === "implied") return <ellipse {...shape} className="mini-implied rim-open" />;
  return (
    <>
      <ellipse {...shape} className={`mini-${kind}-outer mini-rim-outer rim-open`} />
      <ellipse {...shape} className={`mini-${kind}-inner mini-rim-inner rim-open`} />
    </>
  );
}

function MiniNeedle({ tilt, kind }: { tilt: number | null; kind: "judged" | "sighted" | "implied" }) {
  if (tilt === null) return null;
  const [a, b] = lineAt([0, 0], tilt, 16);
  const line = { x1: a[0], y1: a[1], x2: b[0], y2: b[1] };
  if (kind === "implied") return <line {...line} className="mini-implied" />;
  return (
    <>
      <line {...line} className={`mini-${kind}-outer`} />
      <line {...line} className={`mini-${kind}-inner`} />
    </>
  );
}
