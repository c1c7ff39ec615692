/** The view as a picture to draw from. */

import type { StandDrawing, StandFile } from "../api/types";
import { t } from "../words";
import { viewOf } from "./edits";
import { blobOf, type Shading } from "./shading";
import { strokesOf } from "./strokes";

export const PICTURE_PX = 1600;

/** Shaded; where the browser cannot shade, the lines that are seen, on paper. */
export async function pictureOf(shading: Shading | null, file: StandFile, drawing: StandDrawing): Promise<Blob> {
  const view = viewOf(file);
  if (shading) return shading.picture(file, view, PICTURE_PX);
  const canvas = document.createElement("canvas");
  const k = PICTURE_PX / view.width_px;
  canvas.width = PICTURE_PX;
  canvas.height = Math.round(view.height_px * k);
  const pen = canvas.getContext("2d");
  if (!pen) throw new Error(t("stand.picture.failed"));
  pen.fillStyle = "#eef0e9";
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.scale(k, k);
  pen.lineWidth = 2;
  pen.lineCap = "round";
  pen.strokeStyle = "#22302c";
  for (const d of Object.values(strokesOf(drawing).seen)) pen.stroke(new Path2D(d));
  return blobOf(canvas);
}
