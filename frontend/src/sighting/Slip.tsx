import { t } from "../words";
import "../sheet/sheet.css";
import { type ReactNode, useEffect, useRef } from "react";
import type { Along, Family, Finding, Ladder, PartAlong, Plane, Sheet, Sighting } from "../api/types";
import { formsOf, isProposed } from "../sheet/edits";
import { FAMILIES, PLANES } from "../ui/marks";
import { VerdictWord } from "../ui/VerdictWord";
import { RimFigures, RimsByHeight, Triple, type Truth } from "./Figures";
import { SlipChange } from "./SlipChange";

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

interface SlipProps {
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
}: SlipProps) {
  const item = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (chosen) item.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
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
          <SlipMark sighting={sighting} />
          <span className="grow truncate font-semibold">{name}</span>
          {finding && !resting && <VerdictWord of={finding.verdict} measure={finding.measure} />}
        </span>
        {!resting && !isProposed(sighting) && (
          <span className="mt-1 flex items-center gap-3">
            <Triple sighting={sighting} finding={finding} truth={truth} />
          </span>
        )}
      </button>
      {isProposed(sighting) && <Proposal sighting={sighting} judgeFirst={judgeFirst} actions={actions} />}
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
        <SlipChange sheet={sheet} sighting={sighting} first={first} last={last} actions={actions} />
      )}
      {chosen && !resting && children}
      {!chosen && form && formsOf(sheet).length > 1 && <p className="sr-only">{form.name}</p>}
    </li>
  );
}

/** What kind of sighting it is, by letter or sign. */
function SlipMark({ sighting }: { sighting: Sighting }) {
  const family = sighting.kind === "edge" ? FAMILIES[sighting.family] : null;
  return (
    <>
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
    </>
  );
}

interface ProposalProps {
  sighting: Sighting;
  judgeFirst: boolean;
  actions: SlipActions;
}

/** How sure a proposal is, and what can be done with it. */
function Proposal({ sighting, judgeFirst, actions }: ProposalProps) {
  return (
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
