import type { Sighting } from "../../api/types";
import { t } from "../../words";
import { toScreen, type View } from "../geometry";
import { handlesOf } from "../handles";

/** The points of the chosen sighting that a hand can move. */
export function Handles({ sighting, view }: { sighting: Sighting; view: View }) {
  const edge = sighting.kind === "edge";
  return handlesOf(sighting).map(({ key, at, word }) => {
    const [x, y] = toScreen(view, at);
    return (
      <circle
        key={key}
        cx={x}
        cy={y}
        r={edge ? 8 : key.startsWith("at") ? 4 : 6}
        className={edge ? "handle" : "handle handle-small"}
        data-handle={key}
        data-edge={sighting.id}
        tabIndex={0}
        role="button"
        aria-label={t("layers.handles.handle", { word, id: sighting.name ?? sighting.id })}
      />
    );
  });
}
