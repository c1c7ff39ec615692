import { isEdge, type Picture, type Point, type Sighting } from "../../api/types";
import { ovalThrough, type Size, toScreen, type View } from "../geometry";
import { handlesOf } from "../handles";
import { LOUPE_RADIUS, Loupe } from "../Loupe";
import { isPlacing, type Task } from "../task";
import type { useHands } from "../useHands";
import { LayLine, Opening, PickMark } from "./Laying";
import { LaidCorners, ThumbMarks } from "./Measures";

interface Props {
  hands: Pick<ReturnType<typeof useHands>, "first" | "hand" | "cursor" | "gripped">;
  task: Task;
  chosen: Sighting | null;
  picture: Picture;
  /** How long the unit is drawn, px. */
  unit: number;
  view: View;
  size: Size;
}

/** What is being laid or moved, with a loupe over the point in hand. */
export function InHand({ hands, task, chosen, picture, unit, view, size }: Props) {
  const { first, hand, cursor, gripped } = hands;
  const inHand = hand ?? cursor;
  const placing = isPlacing(task);
  const held = gripped && chosen ? handlesOf(chosen).find((h) => h.key === gripped.key) : null;
  const looking: Point | null = held?.at ?? hand ?? (placing ? cursor : null);
  const laying: [Point, Point] | null = first && inHand ? [first, inHand] : null;
  const at = (point: Point) => toScreen(view, point);
  return (
    <>
      {task.kind === "corners" && <LaidCorners corners={task.laid} hand={inHand} view={view} />}
      {(task.kind === "judge" || task.kind === "place" || task.kind === "near" || task.kind === "spot") && task.at && (
        <PickMark at={at(task.at)} />
      )}
      {task.kind === "near" && <LayLine from={at(task.ends[0])} to={at(task.ends[1])} />}
      {task.kind === "near" && inHand && <Opening oval={ovalThrough(...task.ends, inHand)} view={view} />}
      {laying && <LayLine from={at(laying[0])} to={at(laying[1])} />}
      {laying && task.kind === "place" && task.thing === "length" && (
        <ThumbMarks from={at(laying[0])} to={at(laying[1])} unit={unit * view.k} />
      )}
      {!laying && first && <circle cx={at(first)[0]} cy={at(first)[1]} r={5} className="handle" />}
      {cursor && (placing || task.kind === "pick") && <PickMark at={at(cursor)} />}
      {looking && (
        <Loupe
          picture={picture}
          at={looking}
          corner={cornerAway(at(looking), size)}
          scale={view.k}
          line={laying ?? (held && chosen && isEdge(chosen) ? [chosen.p, chosen.q] : null)}
        />
      )}
    </>
  );
}

/** The stage's corner that lies away from the hand. */
function cornerAway([x, y]: Point, size: Size): Point {
  const margin = LOUPE_RADIUS + 14;
  return [x > size.width / 2 ? margin : size.width - margin, y > size.height / 2 ? margin : size.height - margin];
}
