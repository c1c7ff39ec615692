/** How the hand moves the eye, and the projection that the shading is drawn by. Stage geometry: what is true of the view comes from the server. */
import type { StandView } from "../api/types";

export type Spot = [number, number, number];

const RAD = Math.PI / 180;
const FULL_FRAME_MM = 36; // long side of the format that focal lengths count on (CIPA DC-008)
const STRAIGHT_DEG = 89; // steeper than this the eye looks straight up or down, and keeps looking so
const ISOMETRIC_PITCH = -Math.asin(Math.tan(30 * RAD)); // down a cube's diagonal (ISO 5456-3)
const FARTHEST_M = 10_000;

/** A view with every entry there is. */
export function wholeView(view: Partial<StandView> | undefined): StandView {
  return {
    eye_m: [0, -3, 1.6],
    heading_deg: 0,
    pitch_deg: 0,
    roll_deg: 0,
    focal_35mm: 35,
    width_px: 1280,
    height_px: 960,
    parallel: null,
    px_per_m: 400,
    oblique_deg: 45,
    depth_scale: 0.5,
    ...view,
  };
}

/** Pixels per unit of the picture. */
export function focalPx(view: StandView): number {
  return (Math.max(view.width_px, view.height_px) * view.focal_35mm) / FULL_FRAME_MM;
}

/** The picture's right and up and the way of looking, unit vectors of the room. */
export function axesOf(view: StandView): { right: Spot; up: Spot; ahead: Spot } {
  const h = view.heading_deg * RAD;
  const p = view.parallel === "isometric" ? ISOMETRIC_PITCH : view.parallel === "oblique" ? 0 : view.pitch_deg * RAD;
  const r = view.roll_deg * RAD;
  const ahead: Spot = [Math.sin(h) * Math.cos(p), Math.cos(h) * Math.cos(p), Math.sin(p)];
  const flat: Spot = [Math.cos(h), -Math.sin(h), 0];
  const up = cross(flat, ahead);
  const turned = (a: Spot, b: Spot, c: number, s: number): Spot => [
    c * a[0] + s * b[0],
    c * a[1] + s * b[1],
    c * a[2] + s * b[2],
  ];
  return { right: turned(flat, up, Math.cos(r), -Math.sin(r)), up: turned(up, flat, Math.cos(r), Math.sin(r)), ahead };
}

/** The projection of camera coordinates (right, up, back) to the square from −1 to 1, by columns, for depths from `near` to `far`. */
export function projectionOf(view: StandView, near: number, far: number): number[] {
  const [w, h] = [view.width_px, view.height_px];
  if (!view.parallel) {
    const f = focalPx(view);
    const c = -(far + near) / (far - near);
    const d = (-2 * far * near) / (far - near);
    return [(2 * f) / w, 0, 0, 0, 0, (2 * f) / h, 0, 0, 0, 0, c, -1, 0, 0, d, 0];
  }
  const k = view.px_per_m * (view.parallel === "isometric" ? Math.sqrt(1.5) : 1);
  const angle = view.oblique_deg * RAD;
  const depth = view.parallel === "oblique" ? view.depth_scale : 0;
  const [x, y] = [(2 * k) / w, (2 * k) / h];
  // an oblique view runs depths off across the picture: ahead is −z here
  const runs = [-x * depth * Math.cos(angle), -y * depth * Math.sin(angle)];
  return [
    x,
    0,
    0,
    0,
    0,
    y,
    0,
    0,
    runs[0] ?? 0,
    runs[1] ?? 0,
    -2 / (far - near),
    0,
    0,
    0,
    -(far + near) / (far - near),
    1,
  ];
}

export function cross(a: Spot, b: Spot): Spot {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

export function distanceTo(view: StandView, pivot: Spot): number {
  return Math.hypot(pivot[0] - view.eye_m[0], pivot[1] - view.eye_m[1], pivot[2] - view.eye_m[2]);
}

/** Walk round `pivot`: what is looked at stays where it is in the picture. */
export function walked(view: StandView, pivot: Spot, turn_deg: number): StandView {
  const [c, s] = [Math.cos(turn_deg * RAD), Math.sin(turn_deg * RAD)];
  const [x, y] = [view.eye_m[0] - pivot[0], view.eye_m[1] - pivot[1]];
  return {
    ...view,
    eye_m: [pivot[0] + c * x - s * y, pivot[1] + s * x + c * y, view.eye_m[2]],
    heading_deg: wrapHeading(view.heading_deg - turn_deg),
  };
}

/** Raise the eye. One that looks level, straight up or straight down goes on looking so; any other keeps `pivot` at its height in the picture. */
export function raised(view: StandView, pivot: Spot, by_m: number): StandView {
  const z = Math.min(FARTHEST_M, Math.max(-FARTHEST_M, view.eye_m[2] + by_m));
  const away = Math.hypot(pivot[0] - view.eye_m[0], pivot[1] - view.eye_m[1]);
  const eye_m: Spot = [view.eye_m[0], view.eye_m[1], z];
  if (view.parallel || view.pitch_deg === 0 || Math.abs(view.pitch_deg) > STRAIGHT_DEG || away < 1e-6)
    return { ...view, eye_m };
  const pitch = view.pitch_deg + pitchTo({ ...view, eye_m }, pivot) - pitchTo(view, pivot);
  return { ...view, eye_m, pitch_deg: Math.min(STRAIGHT_DEG, Math.max(-STRAIGHT_DEG, pitch)) };
}

/** The pitch at which `pivot` comes to the middle of the picture's height. */
export function pitchTo(view: StandView, pivot: Spot): number {
  const away = Math.hypot(pivot[0] - view.eye_m[0], pivot[1] - view.eye_m[1]);
  return Math.atan2(pivot[2] - view.eye_m[2], away) / RAD;
}

function wrapHeading(degrees: number): number {
  return ((degrees % 360) + 360) % 360;
}

/** What a pixel of the picture measures at the distance of `pivot`, in metres. */
export function metresAPixel(view: StandView, pivot: Spot): number {
  return view.parallel ? 1 / view.px_per_m : distanceTo(view, pivot) / focalPx(view);
}
