import { ChevronDown, Redo2, Undo2 } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { readSheetFile, type Sheet } from "../api/client";
import type { OpenSheet, SaveState } from "./useSheet";

const EXPORTS = [
  { kind: "sighting.json", name: "Sighting sheet" },
  { kind: "overlay.svg", name: "Overlay (SVG)" },
  { kind: "findings.csv", name: "Findings (CSV)" },
  { kind: "report.json", name: "Report" },
];
const PERSPECTIVES: {
  value: NonNullable<Sheet["perspective"]>;
  name: string;
}[] = [
  { value: "auto", name: "Let sightings decide" },
  { value: "one-point", name: "One-point" },
  { value: "two-point", name: "Two-point" },
  { value: "three-point", name: "Three-point" },
  { value: "parallel", name: "Parallel" },
];

/** The sighting screen's tools in the head. */
export function SheetTools({
  open,
  sheetId,
  judgeFirst,
  onJudgeFirst,
  onWalk,
}: {
  open: OpenSheet;
  sheetId: string;
  judgeFirst: boolean;
  onJudgeFirst: (on: boolean) => void;
  onWalk: () => void;
}) {
  const { sheet } = open;
  const file = useRef<HTMLInputElement>(null);
  const menu = useRef<HTMLDetailsElement>(null);
  const [fault, setFault] = useState("");
  const [title, setTitle] = useState(sheet.title ?? "");
  useEffect(() => setTitle(sheet.title ?? ""), [sheet.title]);
  useEffect(() => {
    const close = (event: Event) => {
      if (menu.current?.open && !menu.current.contains(event.target as Node)) menu.current.open = false;
    };
    document.addEventListener("pointerdown", close);
    return () => document.removeEventListener("pointerdown", close);
  }, []);

  const readFile = async (chosen: File) => {
    setFault("");
    try {
      const document = await readSheetFile(chosen);
      const { width_px, height_px } = document.picture;
      if (width_px !== open.picture.width_px || height_px !== open.picture.height_px)
        throw new Error(
          `${chosen.name} is for a picture of ${width_px} × ${height_px} px; this one has ${open.picture.width_px} × ${open.picture.height_px}.`,
        );
      open.change(document);
    } catch (error) {
      setFault(error instanceof Error ? `${chosen.name}: ${error.message}` : String(error));
    }
  };

  return (
    <>
      <input
        className="input input-ghost input-sm w-auto min-w-20 max-w-72 shrink px-1.5 font-semibold [field-sizing:content]"
        aria-label="Title of the sheet"
        value={title}
        maxLength={200}
        onChange={(event) => setTitle(event.target.value)}
        onBlur={() => title.trim() && title !== sheet.title && open.change({ ...sheet, title: title.trim() })}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <SaveMark save={open.save} />
      <span className="grow" />
      <select
        className="select select-sm w-44"
        aria-label="Perspective"
        title="Perspective"
        value={sheet.perspective ?? "auto"}
        onChange={(event) =>
          open.change({
            ...sheet,
            perspective: event.target.value as Sheet["perspective"],
          })
        }
      >
        {PERSPECTIVES.map((p) => (
          <option key={p.value} value={p.value}>
            {p.name}
          </option>
        ))}
      </select>
      <label className="flex items-center gap-1.5 text-sm whitespace-nowrap" title="J">
        <input
          type="checkbox"
          className="toggle toggle-sm toggle-primary"
          checked={judgeFirst}
          onChange={(event) => onJudgeFirst(event.target.checked)}
        />
        Judge first
      </label>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Undo"
        title="Undo (Ctrl Z)"
        disabled={!open.canUndo}
        onClick={open.undo}
      >
        <Undo2 size={18} />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Redo"
        title="Redo (Ctrl Shift Z)"
        disabled={!open.canRedo}
        onClick={open.redo}
      >
        <Redo2 size={18} />
      </button>
      <details ref={menu} className="dropdown dropdown-end">
        <summary className="btn btn-ghost btn-sm">
          Sheet <ChevronDown size={14} />
        </summary>
        <ul className="dropdown-content menu z-30 w-60 rounded-box border border-base-300 bg-base-100 p-1 shadow-lg">
          <li className="menu-title">Export</li>
          {EXPORTS.map((item) => (
            <li key={item.kind}>
              <a href={`/api/sheets/${sheetId}/export/${item.kind}`} download>
                {item.name}
              </a>
            </li>
          ))}
          <li className="menu-title">This sheet</li>
          <li>
            <button type="button" onClick={() => file.current?.click()}>
              Import sightings…
            </button>
          </li>
          <li>
            <label>
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={sheet.level_camera ?? false}
                onChange={(event) => open.change({ ...sheet, level_camera: event.target.checked })}
              />
              Camera held level
            </label>
          </li>
          <li>
            <label>
              Lowest rim may be rounder by
              <input
                type="number"
                className="input input-sm w-16"
                min={0}
                max={30}
                step={1}
                value={sheet.lowest_rim_extra_deg ?? 0}
                onChange={(event) => {
                  const value = Number(event.target.value);
                  if (value >= 0 && value <= 30) open.change({ ...sheet, lowest_rim_extra_deg: value });
                }}
              />
              °
            </label>
          </li>
          <li>
            <button
              type="button"
              onClick={() => {
                if (menu.current) menu.current.open = false;
                onWalk();
              }}
            >
              Show me round
            </button>
          </li>
        </ul>
      </details>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        className="hidden"
        aria-label="Sighting sheet to import"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) void readFile(chosen);
          event.target.value = "";
          if (menu.current) menu.current.open = false;
        }}
      />
      {fault && (
        <div role="alert" className="alert alert-error fixed top-14 right-4 z-40 max-w-md shadow-lg">
          <span>{fault}</span>
          <button type="button" className="btn btn-sm" onClick={() => setFault("")}>
            Close
          </button>
        </div>
      )}
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
