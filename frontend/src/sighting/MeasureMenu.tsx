import type { Thing } from "../stage/task";
import { Menu, MenuAction, MenuCheck, MenuGroup } from "../ui/Menu";
import type { useMeasuring } from "./useMeasuring";

/** Everything that can be measured beside edges and rims, each with its key. */
export function MeasureMenu({
  begin,
  measuring,
  hasFace,
}: {
  begin: (thing: Thing) => void;
  measuring: ReturnType<typeof useMeasuring>;
  /** Whether there is a face for parts to stand on. */
  hasFace: boolean;
}) {
  const { guide, turnGuide, figure, turnFigure, cone, turnCone } = measuring;
  return (
    <Menu name="Measure">
      <MenuGroup name="Compare">
        <MenuAction value="length" onSelect={() => begin("length")}>
          Length against the unit (M)
        </MenuAction>
        <MenuAction value="tilt" onSelect={() => begin("tilt")}>
          Corner to corner (K)
        </MenuAction>
        <MenuCheck value="plumb" checked={guide?.along === "plumb"} onChecked={() => turnGuide("plumb")}>
          Plumb line (I)
        </MenuCheck>
        <MenuCheck value="level" checked={guide?.along === "level"} onChecked={() => turnGuide("level")}>
          Level line (H)
        </MenuCheck>
      </MenuGroup>
      <MenuGroup name="Divide">
        <MenuAction value="face" onSelect={() => begin("face")}>
          Face by its four corners (F)
        </MenuAction>
        {hasFace ? (
          <MenuAction value="part" onSelect={() => begin("part")}>
            Part of a face (Q)
          </MenuAction>
        ) : null}
      </MenuGroup>
      <MenuGroup name="On the ground">
        <MenuAction value="height" onSelect={() => begin("height")}>
          Height (Y)
        </MenuAction>
        <MenuCheck value="figure" checked={figure !== null} onChecked={turnFigure}>
          Figure (G)
        </MenuCheck>
        <MenuCheck value="cone" checked={cone} onChecked={turnCone}>
          Cone of vision (W)
        </MenuCheck>
      </MenuGroup>
    </Menu>
  );
}
