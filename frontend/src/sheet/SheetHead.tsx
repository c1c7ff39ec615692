import { Redo2, Undo2 } from "lucide-react";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import type { Keeper, SaveState } from "./useKept";
import type { OpenSheet } from "./useSheet";

/** A sheet's title, to be changed in place, and whether all of it is saved. */
export function SheetTitle({ open }: { open: OpenSheet }) {
  return (
    <KeptTitle
      label="Title of the sheet"
      title={open.sheet.title}
      onTitle={(title) => open.change({ ...open.sheet, title })}
      save={open.save}
    />
  );
}

/** The same for a document of any kind. */
export function KeptTitle({
  label,
  title,
  onTitle,
  save,
}: {
  label: string;
  title: string | undefined;
  onTitle: (title: string) => void;
  save: SaveState;
}) {
  return (
    <>
      <InlineName label={label} name={title || "Untitled"} onName={onTitle} look="sheet-title" />
      <SaveMark save={save} />
    </>
  );
}

export function UndoRedo({ open }: { open: Pick<Keeper<unknown>, "canUndo" | "canRedo" | "undo" | "redo"> }) {
  return (
    <>
      <IconButton icon={Undo2} label="Undo" title="Undo (Ctrl Z)" disabled={!open.canUndo} onClick={open.undo} />
      <IconButton icon={Redo2} label="Redo" title="Redo (Ctrl Shift Z)" disabled={!open.canRedo} onClick={open.redo} />
    </>
  );
}

function SaveMark({ save }: { save: SaveState }) {
  if (save.kind === "waiting")
    return (
      <span role="alert" className="save-waiting" title={save.words}>
        Not saved yet: {save.words} Your work stays here.
      </span>
    );
  return (
    <span className="text-sm whitespace-nowrap text-base-content/85" data-testid="save-state">
      {save.kind === "saving"
        ? "Saving…"
        : save.kind === "saved"
          ? "Saved"
          : save.kind === "gone"
            ? "Deleted elsewhere"
            : "Changed elsewhere"}
    </span>
  );
}
