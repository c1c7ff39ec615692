import type { Thing } from "../stage/task";
import { Menu, MenuAction, MenuCheck, MenuGroup } from "../ui/Menu";
import { t } from "../words";
import type { useMeasuring } from "./useMeasuring";

interface MeasureMenuProps {
  begin: (thing: Thing) => void;
  measuring: ReturnType<typeof useMeasuring>;
}

/** Everything that can be measured beside edges and rims, each with its key. */
export function MeasureMenu({ begin, measuring }: MeasureMenuProps) {
  const { guide, turnGuide, figure, turnFigure, cone, turnCone } = measuring;
  return (
    <Menu name={t("sighting.measureMenu.measure")}>
      <MenuGroup name={t("sighting.measureMenu.compare")}>
        <MenuAction value="length" onSelect={() => begin("length")}>
          {t("sighting.measureMenu.length")}
        </MenuAction>
        <MenuAction value="tilt" onSelect={() => begin("tilt")}>
          {t("sighting.measureMenu.diagonal")}
        </MenuAction>
        <MenuCheck value="plumb" checked={guide?.along === "plumb"} onChecked={() => turnGuide("plumb")}>
          {t("sighting.measureMenu.plumbLineI")}
        </MenuCheck>
        <MenuCheck value="level" checked={guide?.along === "level"} onChecked={() => turnGuide("level")}>
          {t("sighting.measureMenu.levelLineH")}
        </MenuCheck>
      </MenuGroup>
      <MenuGroup name={t("sighting.measureMenu.divide")}>
        <MenuAction value="face" onSelect={() => begin("face")}>
          {t("sighting.measureMenu.face")}
        </MenuAction>
        <MenuAction value="part" onSelect={() => begin("part")}>
          {t("sighting.measureMenu.part")}
        </MenuAction>
      </MenuGroup>
      <MenuGroup name={t("sighting.measureMenu.onTheGround")}>
        <MenuAction value="height" onSelect={() => begin("height")}>
          {t("sighting.measureMenu.heightY")}
        </MenuAction>
        <MenuCheck value="figure" checked={figure !== null} onChecked={turnFigure}>
          {t("sighting.measureMenu.figureG")}
        </MenuCheck>
        <MenuCheck value="cone" checked={cone} onChecked={turnCone}>
          {t("sighting.measureMenu.cone")}
        </MenuCheck>
      </MenuGroup>
    </Menu>
  );
}
