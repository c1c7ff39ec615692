import { t } from "../words";
import "./plan.css";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { planUrl } from "../api/client";
import { isReading, type PaperPlan, type Plan, type PlanStep, type Point, type SheetFull } from "../api/types";
import { formsOf, sightingsOf } from "../sheet/edits";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { KeepDialogs } from "../sheet/KeepDialogs";
import { SheetTitle, UndoRedo } from "../sheet/SheetHead";
import type { Tabs } from "../sheet/stash";
import { type OpenSheet, useSheet } from "../sheet/useSheet";
import { useKeys } from "../ui/keys";
import { Menu, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { StepButton } from "../ui/StepButton";
import { useStoredSwitch } from "../ui/settings";
import { Board } from "./Board";
import { PLAN_KEYS } from "./keys";
import { LayIn, TiltTables } from "./LayIn";
import { PaperControls } from "./PaperControls";
import { ReachTable } from "./ReachTable";
import { usePlan } from "./usePlan";

const FIRST: Required<PaperPlan> = { paper_mm: [420, 297], margin_mm: 20, near_upright_mm: null, place: [0.5, 0.5] };

/** The step of the lay-in that is in hand. */
function useStep(plan: Plan | null) {
  const [number, setNumber] = useState<number | null>(null);
  const move = (by: number) => {
    const last = plan?.steps.length ?? 0;
    setNumber((old) => (old === null ? (by > 0 ? 1 : last) : old + by < 1 || old + by > last ? null : old + by));
  };
  return { step: plan?.steps.find((one) => one.number === number) ?? null, setNumber, move };
}

/** The drawing moved by so many mm from where it stood: as a share of the room that its margins leave over. */
function usePlacing(open: OpenSheet, how: Required<PaperPlan>, plan: Plan | null) {
  const began = useRef<Point | null>(null);
  return (by: Point, done: boolean) => {
    if (!plan) return;
    const box = plan.limits_mm;
    const room: Point = [
      plan.paper_mm[0] - 2 * plan.margin_mm - (box.right - box.left),
      plan.paper_mm[1] - 2 * plan.margin_mm - (box.bottom - box.top),
    ];
    const from = began.current ?? (how.place as Point);
    began.current = done ? null : from;
    const next = from.map((share, n) => {
      const left = room[n] ?? 0;
      return left > 0.5 ? Math.min(1, Math.max(0, share + (by[n] ?? 0) / left)) : share;
    }) as Point;
    const document = { ...open.sheet, plan: { ...how, place: next } };
    if (done) open.change(document);
    else open.show(document);
  };
}

/** The sheet of paper before the first line: on its board, with what lies off it on the long table and the lay-in beside it. */
export function PlanScreen({ full, tabs }: { full: SheetFull; tabs: Tabs }) {
  const open = useSheet(full, tabs);
  const { sheet } = open;
  const how: Required<PaperPlan> = { ...FIRST, ...sheet.plan } as Required<PaperPlan>;
  const { plan, fault } = usePlan(sheet);
  const { step, setNumber, move } = useStep(plan);
  const [fans, setFans] = useStoredSwitch("plan-fans", false);
  const [scales, setScales] = useStoredSwitch("plan-scales", true);
  const put = (part: Partial<PaperPlan>) => open.change({ ...sheet, plan: { ...how, ...part } });
  const several = formsOf(sheet).length > 1;
  const called = (form: string | null) =>
    several ? (formsOf(sheet).find((one) => one.id === form)?.name ?? form ?? "") : "";
  const place = usePlacing(open, how, plan);
  useKeys(PLAN_KEYS, {
    previous: () => move(-1),
    next: () => move(1),
    fans: () => setFans(!fans),
    scales: () => setScales(!scales),
    turn: () => put({ paper_mm: [how.paper_mm[1], how.paper_mm[0]] }),
    leave: () => setNumber(null),
    undo: open.undo,
    redo: open.redo,
  });
  return (
    <div className="whole-screen plan-grid">
      <h1 className="sr-only">
        {t("plan.planScreen.planOf")} {sheet.title || t("plan.planScreen.theSheet")}
      </h1>
      <ScreenTools>
        <FaceSwitch
          faces={facesOf(full.id, { picture: !!full.picture, life: sightingsOf(sheet).some(isReading) })}
          here="plan"
        />
        <SheetTitle open={open} />
        <span className="grow" />
        <UndoRedo open={open} />
        <PrintMenu id={full.id} fans={fans} setFans={setFans} scales={scales} setScales={setScales} />
      </ScreenTools>
      <div className="plan-board">
        <PaperControls how={how} plan={plan} onChange={put} />
        {plan ? (
          <Board plan={plan} step={step} fans={fans} scales={scales} onPlace={place} />
        ) : (
          <NoPlan full={full} fault={fault} />
        )}
      </div>
      <div className="plan-table">{plan && <ReachTable plan={plan} called={called} />}</div>
      <div className="plan-strip">
        {plan && <PlanStrip plan={plan} fault={fault} step={step} onStep={setNumber} onMove={move} called={called} />}
      </div>
      <p className="sr-only" role="status" aria-live="polite">
        {step ? t("plan.planScreen.step", { number: step.number, words: step.words }) : ""}
      </p>
      <KeepDialogs open={open} />
    </div>
  );
}

interface PrintMenuProps {
  id: string;
  fans: boolean;
  setFans: (on: boolean) => void;
  scales: boolean;
  setScales: (on: boolean) => void;
}

/** The plan on paper, and what is shown of it. */
function PrintMenu({ id, fans, setFans, scales, setScales }: PrintMenuProps) {
  return (
    <Menu name={t("plan.planScreen.print")}>
      <MenuGroup name={t("plan.planScreen.trueToSize")}>
        <MenuDownload href={planUrl(id, "pdf", { fans })}>{t("plan.planScreen.pdfOwnPaper")}</MenuDownload>
        <MenuDownload href={planUrl(id, "pdf", { fans, printer: "A4" })}>{t("plan.planScreen.pdfOverA4")}</MenuDownload>
        <MenuDownload href={planUrl(id, "pdf", { fans, printer: "A3" })}>{t("plan.planScreen.pdfOverA3")}</MenuDownload>
        <MenuDownload href={planUrl(id, "svg", { fans })}>{t("plan.planScreen.svg")}</MenuDownload>
        <MenuDownload href={planUrl(id, "json", {})}>{t("plan.planScreen.itsNumbersJson")}</MenuDownload>
      </MenuGroup>
      <MenuGroup name={t("plan.planScreen.show")}>
        <MenuCheck value="fans" checked={fans} onChecked={setFans}>
          {t("plan.planScreen.fans")}
        </MenuCheck>
        <MenuCheck value="scales" checked={scales} onChecked={setScales}>
          {t("plan.planScreen.edgeScales")}
        </MenuCheck>
      </MenuGroup>
    </Menu>
  );
}

/** Where there is no plan yet, or cannot be one: why, and where to go. */
function NoPlan({ full, fault }: { full: SheetFull; fault: string }) {
  const back = full.picture ? `/sheets/${full.id}` : `/sheets/${full.id}/card`;
  return (
    <div className="plan-none">
      {fault ? (
        <>
          <p role="status">{fault}</p>
          <Link to={back} className="btn btn-primary mt-3">
            {full.picture ? t("plan.planScreen.toTheSubject") : t("plan.planScreen.toTheCard")}
          </Link>
        </>
      ) : (
        <p>{t("plan.planScreen.planning")}</p>
      )}
    </div>
  );
}

interface PlanStripProps {
  plan: Plan;
  fault: string;
  step: PlanStep | null;
  onStep: (number: number | null) => void;
  onMove: (by: number) => void;
  called: (form: string | null) => string;
}

/** What to mind, the lay-in step by step, and where the vanishing points lie. */
function PlanStrip({ plan, fault, step, onStep, onMove, called }: PlanStripProps) {
  return (
    <>
      {fault && (
        <p role="alert" className="plan-warning">
          {fault}
        </p>
      )}
      {plan.warnings.map((warning) => (
        <p key={warning.leaves} role="alert" className="plan-warning">
          {warning.words}
        </p>
      ))}
      {plan.notes.map((note) => (
        <p key={note} className="plan-note">
          {note}
        </p>
      ))}
      <div className="flex items-center gap-2">
        <h2 className="grow text-lg font-bold">{t("plan.planScreen.layIn")}</h2>
        <StepButton by={-1} label={t("plan.planScreen.previousStep")} title="[" onStep={onMove} />
        <StepButton by={1} label={t("plan.planScreen.nextStep")} title="]" onStep={onMove} />
      </div>
      <LayIn plan={plan} step={step} onStep={onStep} />
      <h2 className="mt-4 text-lg font-bold">{t("plan.planScreen.vanishingPoints")}</h2>
      <ul className="plan-points">
        {plan.vanishing_points.map((v) => (
          <li key={`${v.form} ${v.family} ${v.slope}`}>{v.words}</li>
        ))}
      </ul>
      <TiltTables plan={plan} called={called} />
    </>
  );
}
