import type { Thing } from "../stage/task";
import { Menu, MenuAction, MenuCheck, MenuGroup } from "../ui/Menu";
import type { useMeasuring } from "./useMeasuring";
import { words } from "./words";

const say = words.measureMenu;

/** Everything that can be measured beside edges and rims, each with its key. */
export function MeasureMenu({
  begin,
  measuring,
}: {
  begin: (thing: Thing) => void;
  measuring: ReturnType<typeof useMeasuring>;
}) {
  const { guide, turnGuide, figure, turnFigure, cone, turnCone } = measuring;
  return (
    <Menu name={say.measure}>
      <MenuGroup name={say.compare}>
        <MenuAction value="length" onSelect={() => begin("length")}>
          {say.lengthAgainstTheUnitM}
        </MenuAction>
        <MenuAction value="tilt" onSelect={() => begin("tilt")}>
          {say.cornerToCornerK}
        </MenuAction>
        <MenuCheck value="plumb" checked={guide?.along === "plumb"} onChecked={() => turnGuide("plumb")}>
          {say.plumbLineI}
        </MenuCheck>
        <MenuCheck value="level" checked={guide?.along === "level"} onChecked={() => turnGuide("level")}>
          {say.levelLineH}
        </MenuCheck>
      </MenuGroup>
      <MenuGroup name={say.divide}>
        <MenuAction value="face" onSelect={() => begin("face")}>
          {say.faceByItsFourCorners}
        </MenuAction>
        <MenuAction value="part" onSelect={() => begin("part")}>
          {say.partOfAFaceQ}
        </MenuAction>
      </MenuGroup>
      <MenuGroup name={say.onTheGround}>
        <MenuAction value="height" onSelect={() => begin("height")}>
          {say.heightY}
        </MenuAction>
        <MenuCheck value="figure" checked={figure !== null} onChecked={turnFigure}>
          {say.figureG}
        </MenuCheck>
        <MenuCheck value="cone" checked={cone} onChecked={turnCone}>
          {say.coneOfVisionW}
        </MenuCheck>
      </MenuGroup>
    </Menu>
  );
}
