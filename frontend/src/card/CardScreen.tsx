import { figure } from "../ui/locale";
import { t } from "../words";
import "../stage/stage.css";
import "./card.css";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { call, exportUrl } from "../api/client";
import { easelQuery } from "../api/queries";
import type { Picture, Sheet, SheetFull, Slot } from "../api/types";
import { addForm, formsOf, remove, setFormKind } from "../sheet/edits";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { FromTutor } from "../sheet/FromTutor";
import { KeepDialogs } from "../sheet/KeepDialogs";
import { NextTime } from "../sheet/NextTime";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { SheetTitle, UndoRedo } from "../sheet/SheetHead";
import type { Tabs } from "../sheet/stash";
import { ToleranceDialog } from "../sheet/ToleranceDialog";
import { useJudgeFirst } from "../sheet/useJudgeFirst";
import { useSheet } from "../sheet/useSheet";
import { Dialog } from "../ui/Dialog";
import { useKeys } from "../ui/keys";
import { Menu, MenuAction, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { useStoredSwitch } from "../ui/settings";
import { useAwake } from "../ui/useAwake";
import { CalibrateDialog } from "./CalibrateDialog";
import { Cautions } from "./Cautions";
import { freeLength } from "./edits";
import { CARD_KEYS } from "./keys";
import { PointStrip } from "./PointStrip";
import { ReadingPanel } from "./ReadingPanel";
import { Readings } from "./Readings";
import { SchematicStage } from "./SchematicStage";
import { StickDialog } from "./StickDialog";
import { againOf, useCard, whatOf } from "./useCard";
import { useGauge } from "./useGauge";

const EXPORTS = [
  { kind: "sighting.json", name: t("card.cardScreen.sightingSheet") },
  { kind: "findings.csv", name: t("card.cardScreen.findingsCsv") },
  { kind: "report.json", name: t("card.cardScreen.report") },
];
type Asked = "stick" | "calibrate" | "photo" | "tolerance" | "between" | null;

/** Sighting from life: the near corner large in the middle, one reading after another under the thumb. */
export function CardScreen({ full, tabs }: { full: SheetFull; tabs: Tabs }) {
  const open = useSheet(full, tabs);
  const { sheet, report } = open;
  const { judgeFirst, setJudgeFirst, settled } = useJudgeFirst(full.assignment);
  const [byGauge, setByGauge] = useStoredSwitch("by-gauge", false);
  const [asked, setAsked] = useState<Asked>(null);
  const card = useCard(open, judgeFirst);
  const gauge = useGauge();
  const queries = useQueryClient();
  const easel = useQuery(easelQuery);
  useAwake();
  const { task, selected, next, begin, setSelected } = card;
  const resting = judgeFirst && task.kind === "judge";
  const schematic = report.schematic;

  const { source, begin: beginGauge, end: endGauge } = gauge;
  const reading = task.kind === "read" && task.what.kind === "edge";
  useEffect(() => {
    if (asked === "calibrate" || (byGauge && reading)) {
      if (!source) beginGauge();
    } else if (source && task.kind === "rest") endGauge();
  }, [asked, byGauge, reading, source, beginGauge, endGauge, task.kind]);
  const onByGauge = useCallback(
    (on: boolean) => {
      setByGauge(on);
      if (on) beginGauge();
    },
    [beginGauge, setByGauge],
  );

  const onSlot = (slot: Slot) => {
    if (!slot.sighting) begin(whatOf(slot, false));
    else setSelected(slot.sighting);
  };
  const takeOff = (id: string | null) => {
    if (!id || task.kind !== "rest") return false;
    open.change(remove(sheet, id));
    setSelected(null);
    return true;
  };
  useKeys(CARD_KEYS, {
    next: () => (task.kind === "rest" && next ? begin(whatOf(next, false)) : false),
    gauge: () => onByGauge(!byGauge),
    hold: () => document.querySelector<HTMLButtonElement>("[data-hold]")?.click(),
    leave: () => {
      if (task.kind === "rest") setSelected(null);
      card.leave();
    },
    delete: () => takeOff(selected),
    back: () => takeOff(selected),
    undo: open.undo,
    redo: open.redo,
  });

  const put = (change: (old: Sheet) => Sheet) => open.change(change(sheet));
  const secondForm = (kind: "box" | "other") =>
    put((old) => {
      const { sheet: grown, id } = addForm(old);
      return setFormKind(grown, id, kind);
    });
  const firstForm = schematic?.slots[0]?.form ?? formsOf(sheet)[0]?.id ?? "form-1";
  const current = task.kind !== "rest" && "slot" in task.what ? slotOf(task.what.slot, schematic?.slots ?? []) : null;
  const words = report.near_corners.map((one) =>
    report.near_corners.length > 1
      ? `${formsOf(sheet).find((f) => f.id === one.form)?.name ?? one.form}: ${one.words}`
      : one.words,
  );
  return (
    <div className="whole-screen card-grid">
      <h1 className="sr-only">{sheet.title || t("card.cardScreen.fromLife")}</h1>
      <ScreenTools>
        <FaceSwitch faces={facesOf(full.id, { picture: !!full.picture, life: true })} here="card" />
        <SheetTitle open={open} />
        <span className="grow" />
        <label className="flex items-center gap-1.5 text-sm whitespace-nowrap">
          <input
            type="checkbox"
            className="toggle toggle-sm toggle-primary"
            checked={judgeFirst}
            disabled={settled}
            onChange={(event) => setJudgeFirst(event.target.checked)}
          />
          {t("card.cardScreen.judgeFirst")}
        </label>
        <UndoRedo open={open} />
        <Menu name={t("card.cardScreen.sheet")}>
          <MenuGroup name={t("card.cardScreen.atTheEasel")}>
            <MenuAction value="stick" onSelect={() => setAsked("stick")}>
              {t("card.cardScreen.armAndStick")}
            </MenuAction>
            <MenuAction value="calibrate" onSelect={() => setAsked("calibrate")}>
              {t("card.cardScreen.calibrateTheGauge")}
            </MenuAction>
            <MenuCheck value="gauge" checked={byGauge} onChecked={onByGauge}>
              {t("card.cardScreen.withGauge")}
            </MenuCheck>
            <MenuAction value="tolerance" onSelect={() => setAsked("tolerance")}>
              {t("card.cardScreen.tolerance")}
            </MenuAction>
          </MenuGroup>
          {!full.picture && (
            <MenuGroup name={t("card.cardScreen.aPhoto")}>
              <MenuAction value="photo" onSelect={() => setAsked("photo")}>
                {t("card.cardScreen.addPhoto")}
              </MenuAction>
            </MenuGroup>
          )}
          <MenuGroup name={t("card.cardScreen.export")}>
            {EXPORTS.map((item) => (
              <MenuDownload key={item.kind} href={exportUrl(full.id, item.kind)}>
                {item.name}
              </MenuDownload>
            ))}
          </MenuGroup>
        </Menu>
      </ScreenTools>
      <div className="card-stage">
        {easel.data && <Cautions lines={easel.data.cautions} />}
        {schematic && (
          <SchematicStage
            schematic={schematic}
            report={report}
            selected={selected}
            current={current}
            resting={resting}
            onSlot={onSlot}
            onReading={setSelected}
          />
        )}
      </div>
      <div className="card-strip">{schematic && <PointStrip schematic={schematic} resting={resting} />}</div>
      <div className="card-side area-slips">
        <NextTime sheet={full.id} />
        <FromTutor id={full.id} sheet={sheet} assignment={full.assignment} />
        <ReadingPanel
          card={card}
          gauge={gauge}
          byGauge={byGauge}
          onByGauge={onByGauge}
          thumb={report.thumb}
          arm={easel.data?.arm_mm ?? null}
        />
        {task.kind === "rest" && (
          <div className="card-next">
            {next ? (
              <button
                type="button"
                className="btn btn-primary big-button grow"
                onClick={() => begin(whatOf(next, false))}
                title="N"
              >
                {t("card.cardScreen.next", { words: next.words })}
              </button>
            ) : (
              <p className="font-semibold">{t("card.cardScreen.allRead")}</p>
            )}
            <Menu name={t("card.cardScreen.add")}>
              <MenuGroup name={t("card.cardScreen.toTheCard")}>
                <MenuAction value="between" onSelect={() => setAsked("between")}>
                  {t("card.cardScreen.anEdgeBetween")}
                </MenuAction>
                <MenuAction value="rim" onSelect={() => begin({ kind: "rim", again: null, words: "rim" })}>
                  {t("card.cardScreen.aRim")}
                </MenuAction>
                <MenuAction
                  value="length"
                  onSelect={() => begin({ kind: "length", slot: freeLength(firstForm), again: null, words: "length" })}
                >
                  {t("card.cardScreen.aLength")}
                </MenuAction>
                <MenuAction value="form" onSelect={() => secondForm("box")}>
                  {t("card.cardScreen.aSecondForm")}
                </MenuAction>
                <MenuAction value="post" onSelect={() => secondForm("other")}>
                  {t("card.cardScreen.aPost")}
                </MenuAction>
              </MenuGroup>
              <MenuGroup name={t("card.cardScreen.inLine")}>
                <MenuAction
                  value="plumb"
                  onSelect={() => begin({ kind: "alignment", along: "plumb", words: t("card.cardScreen.plumb") })}
                >
                  {t("card.cardScreen.plumbTitle")}
                </MenuAction>
                <MenuAction
                  value="level"
                  onSelect={() => begin({ kind: "alignment", along: "level", words: t("card.cardScreen.level") })}
                >
                  {t("card.cardScreen.levelTitle")}
                </MenuAction>
              </MenuGroup>
            </Menu>
          </div>
        )}
        <div className="card-list" data-testid="card-list">
          {!resting &&
            words.map((said) => (
              <p key={said} className="card-words" role="status">
                {said}
              </p>
            ))}
          {!resting &&
            report.notes.map((note) => (
              <p key={note} className="card-words">
                {note}
              </p>
            ))}
          <Readings
            sheet={sheet}
            report={report}
            selected={selected}
            resting={resting}
            onSelect={setSelected}
            onAgain={(id) => {
              const what = againOf(sheet, schematic, id);
              if (what) begin(what);
            }}
            onRemove={(id) => {
              open.change(remove(sheet, id));
              setSelected(null);
            }}
            onChange={open.change}
          />
        </div>
      </div>
      <p className="sr-only" role="status" aria-live="polite">
        {card.said}
      </p>
      <KeepDialogs open={open} />
      {asked === "stick" && easel.data && (
        <StickDialog
          sheet={sheet}
          thumb={report.thumb}
          easel={easel.data}
          onArm={(arm_mm) =>
            void call("put", "/api/easel/arm", { body: { arm_mm } }).then((kept) =>
              queries.setQueryData(easelQuery.queryKey, kept),
            )
          }
          onChange={open.change}
          onClose={() => setAsked(null)}
        />
      )}
      {asked === "calibrate" && <CalibrateDialog gauge={gauge} onClose={() => setAsked(null)} />}
      {asked === "tolerance" && (
        <ToleranceDialog
          tolerance={sheet.tolerance ?? "freehand"}
          used={report.tolerance}
          onTolerance={(tolerance) => open.change({ ...sheet, tolerance })}
          onClose={() => setAsked(null)}
        />
      )}
      {asked === "photo" && <AttachPhoto id={full.id} onClose={() => setAsked(null)} />}
      {asked === "between" && (
        <Between
          onClose={() => setAsked(null)}
          onEdge={(side, end) => {
            setAsked(null);
            begin({
              kind: "edge",
              slot: { form: firstForm, side, end },
              again: null,
              words: t("card.cardScreen.edgeDown", { value: figure(end, 2), side }),
            });
          }}
        />
      )}
    </div>
  );
}

function slotOf(slot: Pick<Slot, "form" | "side" | "end">, slots: Slot[]): Slot | null {
  if ("kind" in slot) return slot as Slot;
  return slots.find((one) => one.form === slot.form && one.side === slot.side && one.end === slot.end) ?? null;
}

/** An edge that starts between the near upright's ends: a sill, a course, a plank. */
function Between({ onEdge, onClose }: { onEdge: (side: "left" | "right", end: number) => void; onClose: () => void }) {
  const [end, setEnd] = useState(0.5);
  return (
    <Dialog
      title={t("card.cardScreen.edgeBetweenTitle")}
      onClose={onClose}
      actions={
        <>
          <button type="button" className="btn" onClick={onClose}>
            {t("card.cardScreen.cancel")}
          </button>
          {(["left", "right"] as const).map((side) => (
            <button key={side} type="button" className="btn btn-primary" onClick={() => onEdge(side, end)}>
              {t("card.cardScreen.itGoes", { side })}
            </button>
          ))}
        </>
      }
    >
      <p className="mb-3">{t("card.cardScreen.edgeBetweenWhy")}</p>
      <label className="flex items-center gap-2">
        <input
          type="number"
          inputMode="decimal"
          className="input w-24 tabular-nums"
          min={-5}
          max={5}
          step={0.05}
          value={end}
          onChange={(event) => {
            const value = Number(event.target.value);
            if (Number.isFinite(value) && Math.abs(value) <= 5) setEnd(value);
          }}
        />
        {t("card.cardScreen.wayDown")}
      </label>
    </Dialog>
  );
}

/** A photo that came later: the readings stay, and every edge can be laid on it as well. */
function AttachPhoto({ id, onClose }: { id: string; onClose: () => void }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const attach = useCallback(
    async (picture: Picture) => {
      // as it is stored now: a change made here a moment ago is saved by then
      const { revision } = await call("get", "/api/sheets/{sheet_id}", { path: { sheet_id: id } });
      await call("put", "/api/sheets/{sheet_id}/picture", {
        path: { sheet_id: id },
        body: { picture_id: picture.id, revision },
      });
      await queries.invalidateQueries({ queryKey: ["sheets"] });
      await go(`/sheets/${id}`);
    },
    [go, id, queries],
  );
  return (
    <Dialog title={t("card.cardScreen.addPhotoTitle")} onClose={onClose}>
      <PhotoDrop
        label={t("card.cardScreen.photo")}
        button={t("card.cardScreen.choosePhoto")}
        sheet={id}
        onPicture={attach}
      >
        {t("card.cardScreen.addPhotoWhy")}
      </PhotoDrop>
    </Dialog>
  );
}
