import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { useNavigate } from "react-router";
import { call } from "../api/client";
import type { Picture } from "../api/types";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { ToleranceDialog } from "../sheet/ToleranceDialog";
import { Dialog } from "../ui/Dialog";
import { figure } from "../ui/locale";
import { t } from "../words";
import { CalibrateDialog } from "./CalibrateDialog";
import { StickDialog } from "./StickDialog";
import type { CardDesk } from "./useCardScreen";

/** What is asked of the person over the card, one thing at a time. */
export function CardDialogs({ id, desk }: { id: string; desk: CardDesk }) {
  const { open, sheet, report, gauge, easel, onArm, asked, setAsked, begin, firstForm } = desk;
  return (
    <>
      {asked === "stick" && easel && (
        <StickDialog
          sheet={sheet}
          thumb={report.thumb}
          easel={easel}
          onArm={onArm}
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
      {asked === "photo" && <AttachPhoto id={id} onClose={() => setAsked(null)} />}
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
    </>
  );
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
