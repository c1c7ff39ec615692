import { ScanSearch } from "lucide-react";
import { useRef, useState } from "react";
import { exportUrl } from "../api/client";
import { readSheetFile } from "../api/files";
import { looksStraight, type Sheet } from "../api/types";
import { SheetTitle, UndoRedo } from "../sheet/SheetHead";
import { ToleranceDialog } from "../sheet/ToleranceDialog";
import type { OpenSheet } from "../sheet/useSheet";
import { Dialog } from "../ui/Dialog";
import { IconButton } from "../ui/IconButton";
import { Menu, MenuAction, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { words } from "./words";

const say = words.sheetTools;

const EXPORTS = [
  { kind: "sighting.json", name: say.sightingSheet },
  { kind: "overlay.svg", name: "Overlay (SVG)" },
  { kind: "findings.csv", name: "Findings (CSV)" },
  { kind: "forms.csv", name: say.trueProportionsCsv },
  { kind: "report.json", name: "Report" },
];
type Ways = Required<Pick<Sheet, "perspective" | "looking">>;
const PERSPECTIVES: Record<string, Ways & { name: string }> = {
  auto: { name: say.letSightingsDecide, perspective: "auto", looking: "ahead" },
  "one-point": { name: "One-point", perspective: "one-point", looking: "ahead" },
  "two-point": { name: "Two-point", perspective: "two-point", looking: "ahead" },
  "three-point": { name: "Three-point", perspective: "three-point", looking: "ahead" },
  parallel: { name: "Parallel", perspective: "parallel", looking: "ahead" },
  up: { name: say.straightUp, perspective: "one-point", looking: "up" },
  down: { name: say.straightDown, perspective: "one-point", looking: "down" },
};

/** The sighting screen's tools in the head. */
export function SheetTools({
  open,
  sheetId,
  judgeFirst,
  settled,
  onJudgeFirst,
  onLook,
  lookUnasked,
  onLookUnasked,
  onWalk,
}: {
  open: OpenSheet;
  sheetId: string;
  judgeFirst: boolean;
  /** By the assignment: it cannot be turned off. */
  settled: boolean;
  onJudgeFirst: (on: boolean) => void;
  /** Have the photo looked into, where that may be; and whether that is done unasked when one is opened. */
  onLook: (() => void) | null;
  lookUnasked: boolean;
  onLookUnasked: (on: boolean) => void;
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
        throw new Error(say.itIsForThisOne(sizeOf(theirs), sizeOf(ours)));
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
        aria-label={say.perspective}
        title={say.perspective}
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
        {say.judgeFirst}
      </label>
      {open.picture && onLook && (
        <span className="max-lg:hidden">
          <IconButton
            icon={ScanSearch}
            label={say.lookIntoThePhoto}
            title={say.lookIntoThePhotoShiftF}
            onClick={onLook}
          />
        </span>
      )}
      <UndoRedo open={open} />
      <Menu name={say.sheet}>
        <MenuGroup name={say.export}>
          {EXPORTS.filter(({ kind }) => open.picture || kind !== "overlay.svg").map((item) => (
            <MenuDownload key={item.kind} href={exportUrl(sheetId, item.kind)}>
              {item.name}
            </MenuDownload>
          ))}
        </MenuGroup>
        <MenuGroup name={say.thisSheet}>
          <MenuAction value="import" onSelect={() => file.current?.click()}>
            {say.importSightings}
          </MenuAction>
          {!straight && (
            <MenuCheck
              value="level-camera"
              checked={sheet.level_camera ?? false}
              onChecked={(level_camera) => open.change({ ...sheet, level_camera })}
            >
              {say.cameraHeldLevel}
            </MenuCheck>
          )}
          {open.picture && onLook && (
            <>
              <MenuAction value="look" onSelect={onLook}>
                {say.lookIntoThePhoto}
              </MenuAction>
              <MenuCheck value="look-unasked" checked={lookUnasked} onChecked={onLookUnasked}>
                {say.lookIntoEveryPicture}
              </MenuCheck>
            </>
          )}
          <MenuAction value="tolerance" onSelect={() => setMeasuring(true)}>
            {say.tolerance}
          </MenuAction>
          <MenuAction value="lowest-rim" onSelect={() => setAllowing(true)}>
            {say.lowestRimMayBeRounder}
          </MenuAction>
          <MenuAction value="walk" onSelect={onWalk}>
            {say.showMeRound}
          </MenuAction>
        </MenuGroup>
      </Menu>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        className="hidden"
        aria-label={say.sightingSheetToImport}
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
            {say.close}
          </button>
        </div>
      )}
    </>
  );
}

function sizeOf(picture: { width_px: number; height_px: number } | null | undefined): string {
  return picture ? say.aPictureOfPx(picture.width_px, picture.height_px) : say.noPicture;
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
    <Dialog title={say.theLowestRim} onClose={onClose}>
      <p className="mb-3">{say.someTutorsHaveTheLowest}</p>
      <label className="flex items-center gap-2">
        {say.lowestRimMayBeRounder2}
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
