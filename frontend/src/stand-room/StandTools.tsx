import { standUrl } from "../api/client";
import { KeptTitle, UndoRedo } from "../sheet/SheetHead";
import { Menu, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { t } from "../words";
import type { OpenStand } from "./useStandScreen";

/** The bar of a set-up: its title, what is shown over it, its files, and a sheet of its view. */
export function StandTools({ id, stand }: { id: string; stand: OpenStand }) {
  const { open, file, change, drawFrom, busy } = stand;
  return (
    <ScreenTools>
      <KeptTitle
        label={t("stand.standScreen.title")}
        title={file.title}
        onTitle={(title) => change({ ...file, title })}
        save={open.save}
      />
      <span className="grow" />
      <UndoRedo open={open} />
      <ShowMenu id={id} stand={stand} />
      <button
        type="button"
        className="btn btn-sm btn-primary"
        title={t("stand.standScreen.sheetOfView")}
        disabled={busy || open.save.kind !== "saved"}
        onClick={() => void drawFrom()}
      >
        {t("stand.standScreen.drawFromThis")}
      </button>
    </ScreenTools>
  );
}

function ShowMenu({ id, stand }: { id: string; stand: OpenStand }) {
  const { lines, setLines, hidden, showHidden, compare, keepView } = stand;
  return (
    <Menu name={t("stand.standScreen.show")}>
      <MenuGroup name={t("stand.standScreen.over")}>
        <MenuCheck value="lines" checked={lines} onChecked={setLines}>
          {t("stand.standScreen.exactLines")}
        </MenuCheck>
        <MenuCheck value="hidden" checked={hidden} onChecked={showHidden}>
          {t("stand.standScreen.hiddenAndFootprints")}
        </MenuCheck>
      </MenuGroup>
      <MenuGroup name={t("stand.standScreen.whatIf")}>
        <MenuCheck value="compare" checked={!!compare.kept} onChecked={() => void keepView()}>
          {t("stand.standScreen.keepView")}
        </MenuCheck>
        <MenuCheck value="beside" checked={compare.beside} onChecked={compare.setBeside}>
          {t("stand.standScreen.compareView")}
        </MenuCheck>
      </MenuGroup>
      <MenuGroup name={t("stand.standScreen.files")}>
        <MenuDownload href={standUrl(id, "stand.json")}>{t("stand.standScreen.setUp")}</MenuDownload>
        <MenuDownload href={standUrl(id, "drawing.svg")}>{t("stand.standScreen.exactDrawingSvg")}</MenuDownload>
        <MenuDownload href={standUrl(id, "drawing.json")}>{t("stand.standScreen.itsNumbersJson")}</MenuDownload>
      </MenuGroup>
    </Menu>
  );
}
