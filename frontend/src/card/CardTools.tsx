import { exportUrl } from "../api/client";
import type { SheetFull } from "../api/types";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { SheetTitle, UndoRedo } from "../sheet/SheetHead";
import { Menu, MenuAction, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { t } from "../words";
import type { CardDesk } from "./useCardScreen";

const EXPORTS = [
  { kind: "sighting.json", name: t("card.cardScreen.sightingSheet") },
  { kind: "findings.csv", name: t("card.cardScreen.findingsCsv") },
  { kind: "report.json", name: t("card.cardScreen.report") },
];

/** The bar of a card: its faces, whether the eye judges first, and what is done with the sheet. */
export function CardTools({ full, desk }: { full: SheetFull; desk: CardDesk }) {
  const { open, judgeFirst, setJudgeFirst, settled } = desk;
  return (
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
      <CardMenu full={full} desk={desk} />
    </ScreenTools>
  );
}

function CardMenu({ full, desk }: { full: SheetFull; desk: CardDesk }) {
  const { byGauge, onByGauge, setAsked } = desk;
  return (
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
  );
}
