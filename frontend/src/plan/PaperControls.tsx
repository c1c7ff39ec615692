import { useQuery } from "@tanstack/react-query";
import { RotateCw } from "lucide-react";
import { useState } from "react";
import { papersQuery } from "../api/queries";
import type { PaperPlan, Plan } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { figure } from "../ui/locale";
import { t } from "../words";

const INCH_MM = 25.4;
const TYPED = "typed";
const SAME_MM = 0.5;

interface PaperControlsProps {
  how: Required<PaperPlan>;
  plan: Plan | null;
  onChange: (part: Partial<PaperPlan>) => void;
}

/** Which paper, how it lies, its margins, and how large the drawing. */
export function PaperControls({ how, plan, onChange }: PaperControlsProps) {
  const papers = useQuery(papersQuery);
  const [typing, setTyping] = useState(false);
  const [wide, high] = how.paper_mm;
  const landscape = wide > high;
  const named = papers.data?.sizes.find(
    (p) => Math.abs(p.wide_mm - Math.min(wide, high)) < SAME_MM && Math.abs(p.high_mm - Math.max(wide, high)) < SAME_MM,
  );
  const choose = (name: string) => {
    const paper = papers.data?.sizes.find((p) => p.name === name);
    setTyping(!paper);
    if (paper) onChange({ paper_mm: landscape ? [paper.high_mm, paper.wide_mm] : [paper.wide_mm, paper.high_mm] });
  };
  return (
    <div className="paper-controls">
      <label>
        {t("plan.paperControls.paper")}
        <select
          className="select select-sm"
          aria-label={t("plan.paperControls.paper")}
          value={named && !typing ? named.name : TYPED}
          onChange={(event) => choose(event.target.value)}
        >
          {papers.data?.sizes.map((p) => (
            <option key={p.name} value={p.name}>
              {p.name}
            </option>
          ))}
          <option value={TYPED}>{t("plan.paperControls.anotherSize")}</option>
        </select>
      </label>
      <IconButton
        icon={RotateCw}
        label={landscape ? t("plan.paperControls.landscape") : t("plan.paperControls.portrait")}
        title={landscape ? t("plan.paperControls.landscapeR") : t("plan.paperControls.portraitR")}
        onClick={() => onChange({ paper_mm: [high, wide] })}
      />
      {(typing || !named) && <TypedSize wide={wide} high={high} onSize={(paper_mm) => onChange({ paper_mm })} />}
      <Mm
        label={t("plan.paperControls.margin")}
        value={how.margin_mm}
        least={0}
        most={200}
        onValue={(margin_mm) => margin_mm !== null && onChange({ margin_mm })}
      />
      <Mm
        label={t("plan.paperControls.nearUpright")}
        value={how.near_upright_mm}
        least={1}
        most={5000}
        empty={plan?.near_upright_mm == null ? "" : figure(plan.near_upright_mm, 0)}
        onValue={(near_upright_mm) => onChange({ near_upright_mm })}
      />
      {how.near_upright_mm !== null && (
        <button type="button" className="btn btn-sm" onClick={() => onChange({ near_upright_mm: null })}>
          {t("plan.paperControls.largest")}
        </button>
      )}
    </div>
  );
}

interface MmProps {
  label: string;
  value: number | null;
  least: number;
  most: number;
  /** What stands there in grey while nothing is chosen. */
  empty?: string;
  onValue: (value: number | null) => void;
}

function Mm({ label, value, least, most, empty = "", onValue }: MmProps) {
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? (value === null ? "" : String(value));
  return (
    <label>
      {label}
      <input
        type="number"
        inputMode="decimal"
        className="input input-sm w-20 tabular-nums"
        min={least}
        max={most}
        placeholder={empty}
        value={shown}
        onChange={(event) => {
          setText(event.target.value);
          const number = Number(event.target.value);
          if (event.target.value === "") onValue(null);
          else if (number >= least && number <= most) onValue(number);
        }}
        onBlur={() => setText(null)}
      />
      {t("plan.paperControls.mm")}
    </label>
  );
}

/** Width and height in mm or inches. */
function TypedSize({ wide, high, onSize }: { wide: number; high: number; onSize: (size: [number, number]) => void }) {
  const [inches, setInches] = useState(false);
  const by = inches ? INCH_MM : 1;
  const shown = (mm: number) => Math.round((mm / by) * 100) / 100;
  const field = (label: string, value: number, put: (mm: number) => [number, number]) => (
    <input
      type="number"
      inputMode="decimal"
      aria-label={label}
      className="input input-sm w-20 tabular-nums"
      min={1}
      key={`${label} ${inches}`}
      defaultValue={shown(value)}
      onChange={(event) => {
        const mm = Math.round(Number(event.target.value) * by * 10) / 10;
        if (mm >= 30 && mm <= 5000) onSize(put(mm));
      }}
    />
  );
  return (
    <span className="flex items-center gap-1">
      {field(t("plan.paperControls.width"), wide, (mm) => [mm, high])}×
      {field(t("plan.paperControls.height"), high, (mm) => [wide, mm])}
      <select
        className="select select-sm w-20"
        aria-label={t("plan.paperControls.unit")}
        value={inches ? "in" : "mm"}
        onChange={(event) => setInches(event.target.value === "in")}
      >
        <option value="mm">{t("plan.paperControls.mm")}</option>
        <option value="in">{t("plan.paperControls.in")}</option>
      </select>
    </span>
  );
}
