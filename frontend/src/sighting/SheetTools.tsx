import { useRef, useState } from "react";
import { exportUrl } from "../api/client";
import { readSheetFile } from "../api/files";
import { looksStraight, type Sheet } from "../api/types";
import { SheetTitle, UndoRedo } from "../sheet/SheetHead";
import { ToleranceDialog } from "../sheet/ToleranceDialog";
import type { OpenSheet } from "../sheet/useSheet";
import { Dialog } from "../ui/Dialog";
import { Menu, MenuAction, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";

const EXPORTS = [
  { kind: "sighting.json", name: "Sighting sheet" },
  { kind: "overlay.svg", name: "Overlay (SVG)" },
  { kind: "findings.csv", name: "Findings (CSV)" },
  { kind: "forms.csv", name: "True proportions (CSV)" },
  { kind: "report.json", name: "Report" },
];
type Ways = Required<Pick<Sheet, "perspective" | "looking">>;
const PERSPECTIVES: Record<string, Ways & { name: string }> = {
  auto: { name: "Let sightings decide", perspective: "auto", looking: "ahead" },
  "one-point": { name: "One-point", perspective: "one-point", looking: "ahead" },
  "two-point": { name: "Two-point", perspective: "two-point", looking: "ahead" },
  "three-point": { name: "Three-point", perspective: "three-point", looking: "ahead" },
  parallel: { name: "Parallel", perspective: "parallel", looking: "ahead" },
  up: { name: "Straight up", perspective: "one-point", looking: "up" },
  down: { name: "Straight down", perspective: "one-point", looking: "down" },
};

/** The sighting screen's tools in the head. */
export function SheetTools({
  open,
  sheetId,
  judgeFirst,
  settled,
  onJudgeFirst,
  onWalk,
}: {
  open: OpenSheet;
  sheetId: string;
  judgeFirst: boolean;
  /** By the assignment: it cannot be turned off. */
  settled: boolean;
  onJudgeFirst: (on: boolean) => void;
  onWalk: () => void;
}) {
  const { sheet } = open;
  const straight = looksStraight(sheet);
  const file = useRef<HTMLInputElement>(null);
  const [fault, setFault] = useState("");
  const [allowing, setAllowing] = useState(false);
  const [measuring, setMeasuring] = useState(false);

  const readFile = async (chosen: File) => {
    setFault("");
    try {
      const document = await readSheetFile(chosen);
      const [theirs, ours] = [document.picture, open.picture];
      if (theirs?.width_px !== ours?.width_px || theirs?.height_px !== ours?.height_px)
        throw new Error(`it is for ${sizeOf(theirs)}; this one has ${sizeOf(ours)}.`);
      open.change(document);
    } catch (error) {
      setFault(`${chosen.name}: ${(error as Error).message}`);
    }
  };

  return (
    <>
      <SheetTitle open={open} />
      <span className="grow" />
      <select
        className="select select-sm w-44"
        aria-label="Perspective"
        title="Perspective"
        value={straight ? sheet.looking : (sheet.perspective ?? "auto")}
        onChange={(event) => {
          const { perspective, looking } = PERSPECTIVES[event.target.value] ?? {};
          open.change({ ...sheet, perspective, looking });
        }}
      >
        {Object.entries(PERSPECTIVES).map(([value, { name }]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
      <label className="flex items-center gap-1.5 text-sm whitespace-nowrap" title="J">
        <input
          type="checkbox"
          className="toggle toggle-sm toggle-primary"
          checked={judgeFirst}
          disabled={settled}
          onChange={(event) => onJudgeFirst(event.target.checked)}
        />
        Judge first
      </label>
      <UndoRedo open={open} />
      <Menu name="Sheet">
        <MenuGroup name="Export">
          {EXPORTS.filter(({ kind }) => open.picture || kind !== "overlay.svg").map((item) => (
            <MenuDownload key={item.kind} href={exportUrl(sheetId, item.kind)}>
              {item.name}
            </MenuDownload>
          ))}
        </MenuGroup>
        <MenuGroup name="This sheet">
          <MenuAction value="import" onSelect={() => file.current?.click()}>
            Import sightings…
          </MenuAction>
          {!straight && (
            <MenuCheck
              value="level-camera"
              checked={sheet.level_camera ?? false}
              onChecked={(level_camera) => open.change({ ...sheet, level_camera })}
            >
              Camera held level
            </MenuCheck>
          )}
          <MenuAction value="tolerance" onSelect={() => setMeasuring(true)}>
            Tolerance…
          </MenuAction>
          <MenuAction value="lowest-rim" onSelect={() => setAllowing(true)}>
            Lowest rim may be rounder…
          </MenuAction>
          <MenuAction value="walk" onSelect={onWalk}>
            Show me round
          </MenuAction>
        </MenuGroup>
      </Menu>
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
        }}
      />
      {allowing && (
        <LowestRim
          degrees={sheet.lowest_rim_extra_deg ?? 0}
          onDegrees={(lowest_rim_extra_deg) => open.change({ ...sheet, lowest_rim_extra_deg })}
          onClose={() => setAllowing(false)}
        />
      )}
      {measuring && (
        <ToleranceDialog
          tolerance={sheet.tolerance ?? "freehand"}
          used={open.report.tolerance}
          onTolerance={(tolerance) => open.change({ ...sheet, tolerance })}
          onClose={() => setMeasuring(false)}
        />
      )}
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

function sizeOf(picture: { width_px: number; height_px: number } | null | undefined): string {
  return picture ? `a picture of ${picture.width_px} × ${picture.height_px} px` : "no picture";
}

/** Some tutors let the lowest rim be exaggerated a little. */
function LowestRim({
  degrees,
  onDegrees,
  onClose,
}: {
  degrees: number;
  onDegrees: (degrees: number) => void;
  onClose: () => void;
}) {
  return (
    <Dialog title="The lowest rim" onClose={onClose}>
      <p className="mb-3">
        Some tutors have the lowest rim of a form drawn a little rounder than it is. It then holds as far as allowed
        here; 0 allows nothing.
      </p>
      <label className="flex items-center gap-2">
        Lowest rim may be rounder by
        <input
          type="number"
          className="input input-sm w-20"
          min={0}
          max={30}
          step={1}
          value={degrees}
          onChange={(event) => {
            const value = Number(event.target.value);
            if (value >= 0 && value <= 30) onDegrees(value);
          }}
        />
        °
      </label>
    </Dialog>
  );
}
