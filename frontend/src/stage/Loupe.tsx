import { pictureUrl } from "../api/client";
import type { Picture, Point } from "../api/types";
import { between } from "./geometry";

const RADIUS = 78;
const POWER = 3.2;

interface LoupeProps {
  picture: Picture;
  at: Point;
  corner: Point;
  scale: number;
  line: [Point, Point] | null;
}

/** A magnified look at the point under the hand, in the corner away from it. */
export function Loupe({ picture, at, corner, scale, line }: LoupeProps) {
  const k = Math.max(scale * POWER, 1.5);
  const [cx, cy] = corner;
  const place = ([x, y]: Point): Point => [cx + (x - at[0]) * k, cy + (y - at[1]) * k];
  const origin = place([0, 0]);
  const ends = line?.map(place);
  return (
    <g data-testid="loupe" aria-hidden="true" pointerEvents="none">
      <clipPath id="loupe-clip">
        <circle cx={cx} cy={cy} r={RADIUS} />
      </clipPath>
      <circle cx={cx} cy={cy} r={RADIUS} className="fill-base-300" />
      <g clipPath="url(#loupe-clip)">
        <image
          href={pictureUrl(picture.id, "full")}
          x={origin[0]}
          y={origin[1]}
          width={picture.width_px * k}
          height={picture.height_px * k}
          preserveAspectRatio="none"
        />
        {ends?.[0] && ends[1] && <line {...between(ends[0], ends[1])} className="loupe-line" />}
        <path d={`M${cx - 16} ${cy}h12m8 0h12M${cx} ${cy - 16}v12m0 8v12`} className="loupe-cross" />
      </g>
      <circle cx={cx} cy={cy} r={RADIUS} className="loupe-ring" />
    </g>
  );
}

export const LOUPE_RADIUS = RADIUS;
