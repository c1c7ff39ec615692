import type { ReactNode } from "react";
import type { Report, Sheet } from "../api/types";
import { formsOf, inGroups, isLessSure, isProposed, sightingsOf } from "../sheet/edits";
import { t } from "../words";
import type { Truth } from "./Figures";
import { FormCard } from "./FormCard";
import { Slip, type SlipActions } from "./Slip";
import type { useMeasuring } from "./useMeasuring";

interface SlipsProps {
  sheet: Sheet;
  report: Report;
  selected: string | null;
  resting: boolean;
  truth?: Truth | null;
  /** What else the chosen slip offers. */
  aid?: ReactNode;
  judgeFirst: boolean;
  /** Whether proposals that are less sure than even show. */
  unsureShown: boolean;
  onUnsure: () => void;
  actions: SlipActions;
  measuring: ReturnType<typeof useMeasuring>;
}

/** One slip per sighting, form by form: judged, sighted, implied, verdict and reason. */
export function Slips({
  sheet,
  report,
  selected,
  resting,
  truth = null,
  aid,
  judgeFirst,
  unsureShown,
  onUnsure,
  actions,
  measuring,
}: SlipsProps) {
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const groups = inGroups(sheet);
  const named = formsOf(sheet).length > 1;
  const called = (id: string) => sightingsOf(sheet).find((s) => s.id === id)?.name ?? id;
  return (
    <div className="flex flex-col gap-1.5 p-2">
      {groups.map(({ form, sightings }) => {
        const name =
          form === null ? t("sighting.slips.noForm") : (formsOf(sheet).find((f) => f.id === form)?.name ?? form);
        const size = report.forms.find((f) => f.form === form) ?? null;
        const unsure = sightings.filter(isLessSure);
        const told = unsureShown ? sightings : sightings.filter((s) => !isLessSure(s));
        const proposed = told.filter(isProposed).map((s) => s.id);
        const round = sightings.some((s) => s.kind === "rim" && s.plane === "level");
        return (
          <section key={form ?? ""} aria-label={name} className="flex flex-col gap-1.5">
            {named && <h3 className="form-heading">{name}</h3>}
            {proposed.length > 0 && <Proposed name={name} ids={proposed} judgeFirst={judgeFirst} actions={actions} />}
            {form !== null && (size || round) && !resting && (
              <FormCard form={form} size={size} name={name} called={called} measuring={measuring} />
            )}
            <ol
              className="flex flex-col gap-1.5"
              aria-label={named ? t("sighting.slips.slipsOf", { name }) : t("sighting.slips.slips")}
            >
              {told.map((sighting, index) => (
                <Slip
                  key={sighting.id}
                  sheet={sheet}
                  sighting={sighting}
                  finding={findings.get(sighting.id)}
                  ladder={report.ladders.find((l) => l.form === form) ?? null}
                  chosen={sighting.id === selected}
                  resting={resting}
                  truth={truth}
                  first={told[index - 1]?.kind !== sighting.kind}
                  last={told[index + 1]?.kind !== sighting.kind}
                  judgeFirst={judgeFirst}
                  actions={actions}
                >
                  {sighting.id === selected && aid}
                </Slip>
              ))}
            </ol>
            {unsure.length > 0 && (
              <button
                type="button"
                className="btn btn-ghost btn-xs self-start"
                aria-expanded={unsureShown}
                onClick={onUnsure}
              >
                {unsureShown
                  ? t("sighting.slips.hideLessSure")
                  : t("sighting.slips.lessSure", { count: unsure.length })}
              </button>
            )}
          </section>
        );
      })}
    </div>
  );
}

interface ProposedProps {
  name: string;
  ids: string[];
  judgeFirst: boolean;
  actions: SlipActions;
}

/** What is proposed of one form, to be accepted or struck out as a whole. */
function Proposed({ name, ids, judgeFirst, actions }: ProposedProps) {
  return (
    <div className="flex flex-wrap items-center gap-1.5 px-1 text-[13px]">
      <span className="grow">{t("sighting.slips.proposed", { count: ids.length })}</span>
      {!judgeFirst && (
        <button
          type="button"
          className="btn btn-xs btn-primary"
          aria-label={t("sighting.slips.ofForm", { deed: t("sighting.slips.acceptAll"), name })}
          onClick={() => actions.accept(ids)}
        >
          {t("sighting.slips.acceptAll")}
        </button>
      )}
      <button
        type="button"
        className="btn btn-xs"
        aria-label={t("sighting.slips.ofForm", { deed: t("sighting.slips.strikeAllOut"), name })}
        onClick={() => actions.strikeOut(ids)}
      >
        {t("sighting.slips.strikeAllOut")}
      </button>
    </div>
  );
}

/** Where proposals wait until the person has judged. */
export function Waiting({ count }: { count: number }) {
  return count > 0 ? (
    <p className="px-3 py-2 text-[13px] leading-snug">{t("sighting.slips.waiting", { count })}</p>
  ) : null;
}
