import { useState } from "react";
import { pictureUrl } from "../../api/client";
import type { Picture } from "../../api/types";
import { t } from "../../words";
import { type Size, toScreen, type View } from "../geometry";

/** The photo that is sighted; where it cannot be had, that is said in its place. */
export function Photograph({ picture, view, size }: { picture: Picture; view: View; size: Size }) {
  const [missing, setMissing] = useState("");
  const [x, y] = toScreen(view, [0, 0]);
  return (
    <>
      <image
        href={pictureUrl(picture.id, "view")}
        x={x}
        y={y}
        width={picture.width_px * view.k}
        height={picture.height_px * view.k}
        preserveAspectRatio="none"
        onError={() => setMissing(picture.id)}
        onLoad={() => setMissing("")}
      />
      {missing === picture.id && (
        <text textAnchor="end" className="stage-missing" aria-live="polite">
          {[t("stage.stage.noPhoto"), t("stage.stage.noPhotoWhy"), t("stage.stage.noPhotoKept")].map((line, n) => (
            <tspan key={line} x={size.width - 16} y={size.height - 68 + 26 * n}>
              {line}
            </tspan>
          ))}
        </text>
      )}
    </>
  );
}
