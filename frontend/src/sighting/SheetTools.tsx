import { ScanSearch } from "lucide-react";
import { useRef, useState } from "react";
import { exportUrl } from "../api/client";
import { readSheetFile } from "../api/files";
import { looksStraight, type Sheet } from "../api/types";
import { SheetTitle, UndoRedo } from "../sheet/SheetHead";
import { ToleranceDialog } from "../sheet/ToleranceDialog";
import type { OpenSheet } from "../sheet/useSheet";
import { Dialog } from "../ui/Dialog";
import { FileField } from "../ui/FileField";
import { IconButton } from "../ui/IconButton";
import { Menu, MenuAction, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { t } from "../words";

const EXPORTS = [
  { kind: "sighting.json", name: t("sighting.sheetTools.sightingSheet") },
  { kind: "overlay.svg", name: t("sighting.sheetTools.overlaySvg") },
  { kind: "findings.csv", name: t("sighting.sheetTools.findingsCsv") },
  { kind: "forms.csv", name: t("sighting.sheetTools.trueProportionsCsv") },
  { kind: "report.json", name: t("sighting.sheetTools.report") },
];
type ViewSettings = Required<Pick<Sheet, "perspective" | "looking">>;
const PERSPECTIVES: Record<string, ViewSettings & { name: string }> = {
  auto: { name: t("sighting.sheetTools.letSightingsDecide"), perspective: "auto", looking: "ahead" },
  "one-point": { name: t("sighting.sheetTools.onePoint"), perspective: "one-point", looking: "ahead" },
  "two-point": { name: t("sighting.sheetTools.twoPoint"), perspective: "two-point", looking: "ahead" },
  "three-point": { name: t("sighting.sheetTools.threePoint"), perspective: "three-point", looking: "ahead" },
  parallel: { name: t("sighting.sheetTools.parallel"), perspective: "parallel", looking: "ahead" },
  up: { name: t("sighting.sheetTools.straightUp"), perspective: "one-point", looking: "up" },
  down: { name: t("sighting.sheetTools.straightDown"), perspective: "one-point", looking: "down" },
};

interface Props {
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
}

/** The sighting screen's tools in the head. */
export function SheetTools(props: Props) {
  const { open, judgeFirst, settled, onJudgeFirst, onLook } = props;
  const { sheet } = open;
  const sightings = useSightingsFile(open);
  const [asks, setAsks] = useState<"lowest-rim" | "tolerance" | null>(null);
  const done = () => setAsks(null);
  return (
    <>
      <SheetTitle open={open} />
      <span className="grow" />
      <PerspectiveSelect open={open} />
      <label className="flex items-center gap-1.5 text-sm whitespace-nowrap" title="J">
        <input
          type="checkbox"
          className="toggle toggle-sm toggle-primary"
          checked={judgeFirst}
          disabled={settled}
          onChange={(event) => onJudgeFirst(event.target.checked)}
        />
        {t("sighting.sheetTools.judgeFirst")}
      </label>
      {open.picture && onLook && (
        <span className="max-lg:hidden">
          <IconButton
            icon={ScanSearch}
            label={t("sighting.sheetTools.lookInto")}
            title={t("sighting.sheetTools.lookIntoHint")}
            onClick={onLook}
          />
        </span>
      )}
      <UndoRedo open={open} />
      <SheetMenu {...props} onImport={sightings.choose} onAsk={setAsks} />
      {sightings.input}
      {asks === "lowest-rim" && (
        <LowestRim
          degrees={sheet.lowest_rim_extra_deg ?? 0}
          onDegrees={(lowest_rim_extra_deg) => open.change({ ...sheet, lowest_rim_extra_deg })}
          onClose={done}
        />
      )}
      {asks === "tolerance" && (
        <ToleranceDialog
          tolerance={sheet.tolerance ?? "freehand"}
          used={open.report.tolerance}
          onTolerance={(tolerance) => open.change({ ...sheet, tolerance })}
          onClose={done}
        />
      )}
      {sightings.fault && (
        <div role="alert" className="alert alert-error fixed top-14 right-4 z-40 max-w-md shadow-lg">
          <span>{sightings.fault}</span>
          <button type="button" className="btn btn-sm" onClick={sightings.close}>
            {t("sighting.sheetTools.close")}
          </button>
        </div>
      )}
    </>
  );
}

/** A file of sightings that is read into the sheet, with the field that takes it; it must be of the same picture. */
function useSightingsFile(open: OpenSheet) {
  const field = useRef<HTMLInputElement>(null);
  const [fault, setFault] = useState("");
  const read = async (chosen: File) => {
    setFault("");
    try {
      const document = await readSheetFile(chosen);
      const [theirs, ours] = [document.picture, open.picture];
      if (theirs?.width_px !== ours?.width_px || theirs?.height_px !== ours?.height_px)
        throw new Error(t("sighting.sheetTools.importOtherSize", { wanted: sizeOf(theirs), here: sizeOf(ours) }));
      open.change(document);
    } catch (error) {
      setFault(`${chosen.name}: ${(error as Error).message}`);
    }
  };
  const input = (
    <FileField
      field={field}
      label={t("sighting.sheetTools.importFile")}
      accept=".json,application/json"
      onFile={(file) => void read(file)}
    />
  );
  return { choose: () => field.current?.click(), input, fault, close: () => setFault("") };
}

function PerspectiveSelect({ open }: { open: OpenSheet }) {
  const { sheet } = open;
  return (
    <select
      className="select select-sm w-44"
      aria-label={t("sighting.sheetTools.perspective")}
      title={t("sighting.sheetTools.perspective")}
      value={looksStraight(sheet) ? sheet.looking : (sheet.perspective ?? "auto")}
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
  );
}

/** What is done with the sheet as a whole, and seldom. */
function SheetMenu({
  open,
  sheetId,
  onLook,
  lookUnasked,
  onLookUnasked,
  onWalk,
  onImport,
  onAsk,
}: Props & { onImport: () => void; onAsk: (about: "lowest-rim" | "tolerance") => void }) {
  const { sheet } = open;
  return (
    <Menu name={t("sighting.sheetTools.sheet")}>
      <Exports id={sheetId} picture={!!open.picture} />
      <MenuGroup name={t("sighting.sheetTools.thisSheet")}>
        <MenuAction value="import" onSelect={onImport}>
          {t("sighting.sheetTools.importSightings")}
        </MenuAction>
        {!looksStraight(sheet) && (
          <MenuCheck
            value="level-camera"
            checked={sheet.level_camera ?? false}
            onChecked={(level_camera) => open.change({ ...sheet, level_camera })}
          >
            {t("sighting.sheetTools.cameraHeldLevel")}
          </MenuCheck>
        )}
        {open.picture && onLook && (
          <>
            <MenuAction value="look" onSelect={onLook}>
              {t("sighting.sheetTools.lookInto")}
            </MenuAction>
            <MenuCheck value="look-unasked" checked={lookUnasked} onChecked={onLookUnasked}>
              {t("sighting.sheetTools.lookIntoEvery")}
            </MenuCheck>
          </>
        )}
        <MenuAction value="tolerance" onSelect={() => onAsk("tolerance")}>
          {t("sighting.sheetTools.tolerance")}
        </MenuAction>
        <MenuAction value="lowest-rim" onSelect={() => onAsk("lowest-rim")}>
          {t("sighting.sheetTools.lowestRim")}
        </MenuAction>
        <MenuAction value="walk" onSelect={onWalk}>
          {t("sighting.sheetTools.showMeRound")}
        </MenuAction>
      </MenuGroup>
    </Menu>
  );
}

function sizeOf(picture: { width_px: number; height_px: number } | null | undefined): string {
  return picture
    ? t("sighting.sheetTools.pictureOf", { width: picture.width_px, height: picture.height_px })
    : t("sighting.sheetTools.noPicture");
}

interface LowestRimProps {
  degrees: number;
  onDegrees: (degrees: number) => void;
  onClose: () => void;
}

/** Some tutors let the lowest rim be exaggerated a little. */
function LowestRim({ degrees, onDegrees, onClose }: LowestRimProps) {
  return (
    <Dialog title={t("sighting.sheetTools.theLowestRim")} onClose={onClose}>
      <p className="mb-3">{t("sighting.sheetTools.lowestRimWhat")}</p>
      <label className="flex items-center gap-2">
        {t("sighting.sheetTools.lowestRimBy")}
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

function Exports({ id, picture }: { id: string; picture: boolean }) {
  return (
    <MenuGroup name={t("sighting.sheetTools.export")}>
      {EXPORTS.filter(({ kind }) => picture || kind !== "overlay.svg").map((item) => (
        <MenuDownload key={item.kind} href={exportUrl(id, item.kind)}>
          {item.name}
        </MenuDownload>
      ))}
    </MenuGroup>
  );
}
