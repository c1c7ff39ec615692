import { useState } from "react";
import { call } from "../api/client";
import type { Easel, Sheet, Thumb } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { figure } from "../ui/locale";
import { t } from "../words";
import { Said } from "../words/Said";

interface StickDialogProps {
  sheet: Sheet;
  thumb: Thumb | null;
  easel: Easel;
  onArm: (arm_mm: number | null) => void;
  onChange: (next: Sheet) => void;
  onClose: () => void;
}

/** Arm, stick and gauge: measured once, so that marks on the stick become angles, units and distances. */
export function StickDialog({ sheet, thumb, easel, onArm, onChange, onClose }: StickDialogProps) {
  const stick = sheet.stick ?? {};
  const put = (part: Partial<typeof stick>) => onChange({ ...sheet, stick: { ...stick, ...part } });
  return (
    <Dialog title={t("card.stickDialog.armAndStick")} onClose={onClose}>
      <p className="mb-3">{t("card.stickDialog.how", { value: easel.usual_arm_mm / 10 })}</p>
      <div className="grid gap-3">
        <Measure
          label={t("card.stickDialog.eyeToStick")}
          value={easel.arm_mm ?? null}
          least={100}
          most={1500}
          unit={t("card.stickDialog.mm")}
          onValue={(arm_mm) => {
            onArm(arm_mm);
            put({ arm_mm });
          }}
        />
        <Measure
          label={t("card.stickDialog.mark")}
          value={stick.unit_mm ?? null}
          least={1}
          most={1500}
          unit={t("card.stickDialog.mm")}
          onValue={(unit_mm) => put({ unit_mm })}
        />
        <Measure
          label={t("card.stickDialog.trueHeight")}
          value={stick.upright_m ?? null}
          least={0.01}
          most={10000}
          unit="m"
          onValue={(upright_m) => put({ upright_m })}
        />
      </div>
      {thumb && <HowTall thumb={thumb} />}
      {thumb && (
        <p className="mt-4" role="status">
          <Said
            of="card.stickDialog.takesUp"
            parts={{ angle: <Known value={`${figure(thumb.subtends_deg, 1)}°`} sd={figure(thumb.subtends_sd, 1)} /> }}
          />{" "}
          {thumb.distance_m != null && (
            <Said
              of="card.stickDialog.itStands"
              parts={{
                distance: <Known value={`${figure(thumb.distance_m, 1)} m`} sd={figure(thumb.distance_sd ?? 0, 1)} />,
              }}
            />
          )}
        </p>
      )}
    </Dialog>
  );
}

/** The other way round: how tall it is, where its distance is known. */
function HowTall({ thumb }: { thumb: Thumb }) {
  const [told, setTold] = useState<{ value: number; sd: number } | null>(null);
  const [fault, setFault] = useState("");
  const ask = async (away_m: number | null) => {
    setFault("");
    setTold(null);
    if (away_m === null) return;
    try {
      const body = { mark_mm: thumb.unit_mm, arm_mm: thumb.arm_mm, away_m };
      setTold((await call("post", "/api/thumb", { body })).height_m);
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <div className="mt-3">
      <Measure
        label={t("card.stickDialog.distance")}
        value={null}
        least={0.1}
        most={10000}
        unit="m"
        onValue={(away) => void ask(away)}
      />
      {told && (
        <p role="status" className="mt-2">
          <Said
            of="card.stickDialog.thenItIs"
            parts={{ height: <Known value={`${figure(told.value, 2)} m`} sd={figure(told.sd, 2)} /> }}
          />
        </p>
      )}
      {fault && (
        <p role="alert" className="font-semibold text-error">
          {fault}
        </p>
      )}
    </div>
  );
}

interface MeasureProps {
  label: string;
  value: number | null;
  least: number;
  most: number;
  unit: string;
  onValue: (value: number | null) => void;
}

function Measure({ label, value, least, most, unit, onValue }: MeasureProps) {
  const [text, setText] = useState(value === null ? "" : String(value));
  const number = Number(text);
  const wrong = text !== "" && !(number >= least && number <= most);
  return (
    <label className="flex flex-wrap items-center gap-2">
      <span className="min-w-64">{label}</span>
      <input
        type="number"
        inputMode="decimal"
        className="input w-28 tabular-nums"
        min={least}
        max={most}
        value={text}
        aria-invalid={wrong}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => !wrong && onValue(text === "" ? null : number)}
      />
      {unit}
      {wrong && (
        <span role="alert" className="text-sm text-error">
          {t("card.stickDialog.fromTo", { least, most, unit })}
        </span>
      )}
    </label>
  );
}

function Known({ value, sd }: { value: string; sd: string }) {
  return (
    <b className="tabular-nums">
      {value} ± {sd}
    </b>
  );
}
