import { Repeat2, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import { type Finding, isReading, type Report, type Sheet, type Sighting } from "../api/types";
import { rename, sightingsOf } from "../sheet/edits";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { VerdictWord } from "../ui/VerdictWord";
import { t } from "../words";
import { dropRepeat } from "./edits";

interface ReadingsProps {
  sheet: Sheet;
  report: Report;
  selected: string | null;
  resting: boolean;
  onSelect: (id: string) => void;
  onAgain: (id: string) => void;
  onRemove: (id: string) => void;
  onChange: (next: Sheet) => void;
}

/** Every reading in its order: judged, read, asked for; its verdict and the reason. */
export function Readings({ sheet, report, selected, resting, onSelect, onAgain, onRemove, onChange }: ReadingsProps) {
  const list = sightingsOf(sheet).filter(isReading);
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const chosen = useRef<HTMLLIElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it scrolls when another reading is chosen
  useEffect(() => {
    chosen.current?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  return (
    <ol className="readings" aria-label={t("card.readings.readings")}>
      {list.map((s) => {
        const finding = findings.get(s.id);
        if (!finding) return null;
        const on = s.id === selected;
        return (
          <li key={s.id} ref={on ? chosen : null} className={`reading ${on ? "reading-on" : ""}`} data-reading={s.id}>
            <ReadingHead
              reading={s}
              finding={finding}
              {...{ resting, onAgain, onRemove, onSelect }}
              onName={(name) => onChange(rename(sheet, s.id, name))}
            />
            <Triple finding={finding} resting={resting} />
            {!resting && <p className="leading-snug">{finding.words}</p>}
            {finding.judged_words && <p className="text-sm">{finding.judged_words}</p>}
            {on && <Repeats sighting={s} finding={finding} onDrop={(n) => onChange(dropRepeat(sheet, s.id, n))} />}
          </li>
        );
      })}
    </ol>
  );
}

function Triple({ finding, resting }: { finding: Finding; resting: boolean }) {
  const degrees = finding.kind === "edge" || finding.kind === "rim";
  const text = (value: number | null | undefined) =>
    value == null ? "–" : degrees ? degreesText(value) : figure(value, 2);
  const sd = finding.sighted_sd;
  return (
    <p className="triple">
      <span>
        {t("card.readings.judged")} <b>{text(finding.judged)}</b>
      </span>
      <span>
        {t("card.readings.read")} <b>{text(finding.sighted)}</b>
        {sd != null && <small> ± {figure(sd, degrees ? 1 : 2)}</small>}
      </span>
      <span>
        {t("card.readings.implied")} <b>{resting ? "–" : text(finding.implied)}</b>
      </span>
    </p>
  );
}

/** Each time something was read; one that strays is named, and any can be taken back. */
function Repeats({ sighting, finding, onDrop }: { sighting: Sighting; finding: Finding; onDrop: (n: number) => void }) {
  const life = finding.from_life;
  if (!life || life.readings.length < 2) return null;
  const degrees = sighting.kind === "edge" || (sighting.kind === "rim" && sighting.sight_deg != null);
  return (
    <ul className="repeats" aria-label={t("card.readings.eachReading")}>
      {life.readings.map((value, n) => {
        const strays = life.strays.includes(n);
        const shown = degrees ? degreesText(value) : figure(value, 2);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: two readings may be alike; their place tells them apart
          <li key={n}>
            <button
              type="button"
              className={`btn btn-sm ${strays ? "repeat-strays" : ""}`}
              title={t("card.readings.takeBack")}
              aria-label={t("card.readings.takeBackNamed", {
                shown,
                whichStrays: strays ? t("card.readings.whichStrays") : "",
              })}
              onClick={() => onDrop(n)}
            >
              {shown}
              {strays && " strays"} ×
            </button>
          </li>
        );
      })}
    </ul>
  );
}

interface ReadingHeadProps extends Pick<ReadingsProps, "resting" | "onAgain" | "onRemove" | "onSelect"> {
  reading: Sighting;
  finding: Finding;
  onName: (name: string) => void;
}

function ReadingHead({ reading, finding, resting, onName, onSelect, onAgain, onRemove }: ReadingHeadProps) {
  const name = reading.name ?? reading.id;
  return (
    <div className="flex items-center gap-1">
      <InlineName
        label={t("card.readings.name", { id: name })}
        name={name}
        onName={onName}
        look="min-w-0 font-semibold"
      />
      <button
        type="button"
        className="grow self-stretch"
        aria-label={t("card.readings.select", { id: name })}
        onClick={() => onSelect(reading.id)}
      />
      {!resting && <VerdictWord of={finding.verdict} measure={finding.measure} />}
      {reading.kind !== "alignment" && (
        <IconButton
          icon={Repeat2}
          label={t("card.readings.readAgainNamed", { id: name })}
          title={t("card.readings.readAgain")}
          size={18}
          onClick={() => onAgain(reading.id)}
        />
      )}
      <IconButton
        icon={Trash2}
        label={t("card.readings.takeOff", { id: name })}
        title={t("card.readings.takeOffDelete")}
        size={18}
        onClick={() => onRemove(reading.id)}
      />
    </div>
  );
}
