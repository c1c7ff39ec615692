import { Redo2, Undo2 } from "lucide-react";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { t } from "../words";
import type { Autosaved, SaveState } from "./useAutosave";
import type { OpenSheet } from "./useSheet";

/** A sheet's title, to be changed in place, and whether all of it is saved. */
export function SheetTitle({ open }: { open: OpenSheet }) {
  return (
    <KeptTitle
      label={t("sheet.sheetHead.title")}
      title={open.sheet.title}
      onTitle={(title) => open.change({ ...open.sheet, title })}
      save={open.save}
    />
  );
}

interface KeptTitleProps {
  label: string;
  title: string | undefined;
  onTitle: (title: string) => void;
  save: SaveState;
}

/** The same for a document of any kind. */
export function KeptTitle({ label, title, onTitle, save }: KeptTitleProps) {
  return (
    <>
      <InlineName label={label} name={title || t("sheet.sheetHead.untitled")} onName={onTitle} look="sheet-title" />
      <SaveMark save={save} />
    </>
  );
}

export function UndoRedo({ open }: { open: Pick<Autosaved<unknown>, "canUndo" | "canRedo" | "undo" | "redo"> }) {
  return (
    <>
      <IconButton
        icon={Undo2}
        label={t("sheet.sheetHead.undo")}
        title={t("sheet.sheetHead.undoCtrlZ")}
        disabled={!open.canUndo}
        onClick={open.undo}
      />
      <IconButton
        icon={Redo2}
        label={t("sheet.sheetHead.redo")}
        title={t("sheet.sheetHead.redoHint")}
        disabled={!open.canRedo}
        onClick={open.redo}
      />
    </>
  );
}

function SaveMark({ save }: { save: SaveState }) {
  if (save.kind === "waiting")
    return (
      <span role="alert" className="save-waiting" title={save.words}>
        {t("sheet.sheetHead.notSaved", { words: save.words })}
      </span>
    );
  return (
    <span className="text-sm whitespace-nowrap text-base-content/85" data-testid="save-state">
      {save.kind === "saving"
        ? t("sheet.sheetHead.saving")
        : save.kind === "saved"
          ? t("sheet.sheetHead.saved")
          : save.kind === "gone"
            ? t("sheet.sheetHead.deletedElsewhere")
            : t("sheet.sheetHead.changedElsewhere")}
    </span>
  );
}
