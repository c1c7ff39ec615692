/** The set-up shaded as a real thing would look: surfaces from the server, drawn by three.js in software or on a graphics card. */

import {
  BufferGeometry,
  Camera,
  CircleGeometry,
  Color,
  ColorManagement,
  Float32BufferAttribute,
  LinearSRGBColorSpace,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Raycaster,
  Scene,
  ShapeUtils,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import type { StandFile, StandSolid, StandSolids, StandThing, StandView } from "../api/types";
import { t } from "../words";
import { axesOf, cross, distanceTo, projectionOf, type Spot } from "./eye";

// paints are as they are seen: nothing is converted
ColorManagement.enabled = false;

const ROUND = 72; // pieces round a turned form: a chord leaves the circle by a thousandth of its radius
const PAINTS = ["#d2b681", "#93b5aa", "#c49578", "#a4adc2", "#bdbb87", "#b08fa8", "#ddd2b4", "#88a5ba"];
const PAPER = "#d8ddd2";
const GROUND = "#b9c0b0";
const SHADOW = "#868d81";
export const DAYLIGHT: [number, number] = [-130, 42]; // from behind the viewer's left shoulder, where no sun is set
// shares of a paint's brightness: what every side has, what the sun adds at most, and the open sky's bit more on what faces up
const [AMBIENT, SUN, SKY] = [0.66, 0.36, 0.06];
/** Drawn so many times as fine and brought down, edges are smooth: at rest and in pictures, as in software it takes four times as long. */
const SMOOTH = 2;
/** How far the ground runs on, in spans of the set-up: its far edge lies on eye level to a hair. */
const GROUND_SPANS = 4000;

interface Shaded {
  mesh: Mesh<BufferGeometry, MeshBasicMaterial>;
  shadow: Mesh<BufferGeometry, MeshBasicMaterial>;
  shape: string;
  paint: Color;
  base: number;
  /** The light that its surface was tinted by. */
  lit: string;
}

/** Surfaces never gleam: each keeps its shade however the eye moves, so it is worked out once and a frame costs no light. */
export class Shading {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new Camera();
  private readonly ground: Mesh<CircleGeometry, MeshBasicMaterial>;
  // the ground hides nothing, as in the exact drawing: it is painted first, shadows over it, things over both
  private readonly dark = new MeshBasicMaterial({ color: SHADOW, depthTest: false, depthWrite: false });
  private readonly tinted = new MeshBasicMaterial({ vertexColors: true });
  private readonly shaded = new Map<string, Shaded>();
  private low: Spot = [0, 0, 0];
  private high: Spot = [0, 0, 0];

  /** Throws where the browser has no WebGL. */
  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas });
    this.renderer.outputColorSpace = LinearSRGBColorSpace;
    this.scene.background = new Color(PAPER);
    this.camera.matrixAutoUpdate = false;
    const earth = new MeshBasicMaterial({ color: GROUND, depthTest: false, depthWrite: false });
    this.ground = new Mesh(new CircleGeometry(1, 96), earth);
    this.ground.renderOrder = -2;
    this.scene.add(this.ground);
  }

  /** Take up surfaces; those whose shape has not changed stay as they are. */
  setSolids(solids: StandSolids): void {
    this.low = solids.low_m;
    this.high = solids.high_m;
    const here = new Set(solids.solids.map((solid) => solid.thing));
    for (const id of this.shaded.keys()) if (!here.has(id)) this.drop(id);
    solids.solids.forEach((solid, n) => {
      const shape = JSON.stringify([solid.faces, solid.lathes]);
      const known = this.shaded.get(solid.thing);
      if (known?.shape === shape) {
        known.base = solid.base_m;
        return;
      }
      this.drop(solid.thing);
      const surface = surfaceOf(solid);
      const mesh = new Mesh(surface, this.tinted);
      const shadow = new Mesh(surface, this.dark);
      for (const one of [mesh, shadow]) {
        one.matrixAutoUpdate = false;
        // its box is not that of the flattened shadow
        one.frustumCulled = false;
      }
      shadow.renderOrder = -1;
      mesh.name = solid.thing;
      const paint = new Color(PAINTS[n % PAINTS.length]);
      this.shaded.set(solid.thing, { mesh, shadow, shape, paint, base: solid.base_m, lit: "" });
      this.scene.add(mesh, shadow);
    });
  }

  private drop(id: string): void {
    const gone = this.shaded.get(id);
    if (!gone) return;
    this.scene.remove(gone.mesh, gone.shadow);
    gone.mesh.geometry.dispose();
    this.shaded.delete(id);
  }

  /** Draw the set-up as `file` has it now, `width` by `height` layout pixels large; smooth where nothing moves. */
  draw(file: StandFile, view: StandView, width: number, height: number, smooth: boolean): void {
    this.place(file, view);
    this.size(width, height, smooth ? Math.max(SMOOTH, window.devicePixelRatio) : 1);
    this.renderer.render(this.scene, this.camera);
  }

  /** The view as a picture of `width` pixels to draw from: the ground runs on without end, since where it ended would be eye level drawn in. */
  picture(file: StandFile, view: StandView, width: number): Promise<Blob> {
    const height = Math.round((width * view.height_px) / view.width_px);
    this.place(file, view);
    this.size(width, height, SMOOTH);
    const paper = this.scene.background;
    this.scene.background = new Color(GROUND);
    this.renderer.render(this.scene, this.camera);
    this.scene.background = paper;
    const small = document.createElement("canvas");
    Object.assign(small, { width, height });
    const pen = small.getContext("2d");
    // read at once: what was drawn is gone with the next turn of the event loop
    pen?.drawImage(this.renderer.domElement, 0, 0, width, height);
    return blobOf(small);
  }

  /** Setting the size makes all buffers anew: only where it changes. */
  private size(width: number, height: number, ratio: number): void {
    const canvas = this.renderer.domElement;
    if (canvas.width === Math.floor(width * ratio) && canvas.height === Math.floor(height * ratio)) return;
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(width, height, false);
  }

  /** The thing that shows at a place of the picture, from −1 to 1 to the right and up. */
  thingAt(x: number, y: number): string | null {
    // a ray from before the nearest depth to behind the farthest, for parallel views too
    const [from, to] = [-1, 1].map((z) => new Vector3(x, y, z).unproject(this.camera)) as [Vector3, Vector3];
    const ray = new Raycaster(from, to.clone().sub(from).normalize());
    const [hit] = ray.intersectObjects([...this.shaded.values()].map(({ mesh }) => mesh));
    return hit?.object.name ?? null;
  }

  private place(file: StandFile, view: StandView): void {
    const { right, up, ahead } = axesOf(view);
    this.camera.matrix.makeBasis(vector(right), vector(up), vector(ahead).negate()).setPosition(...view.eye_m);
    this.camera.updateMatrixWorld(true);
    const middle = this.low.map((low, n) => (low + (this.high[n] ?? 0)) / 2) as Spot;
    const span = Math.max(0.01, Math.hypot(...this.low.map((low, n) => (this.high[n] ?? 0) - low)));
    const away = distanceTo(view, middle);
    const [near, far] = view.parallel
      ? [-4 * (span + away), 4 * (span + away)]
      : [Math.max(away / 2000, 0.005, (away - span) / 3), away + GROUND_SPANS * span];
    this.camera.projectionMatrix = new Matrix4().fromArray(projectionOf(view, near, far));
    this.camera.projectionMatrixInverse.copy(this.camera.projectionMatrix).invert();
    this.ground.scale.setScalar(GROUND_SPANS * span);
    this.ground.position.set(middle[0], middle[1], 0);
    const sun = wayTo(file.sun_deg ?? DAYLIGHT);
    const fallen = flattened(sun);
    for (const thing of file.things ?? []) {
      const shaded = this.shaded.get(thing.id);
      if (!shaded) continue;
      const [x, y] = thing.at_m ?? [0, 0];
      const { mesh, shadow } = shaded;
      mesh.matrix.makeRotationZ(turnOf(thing)).setPosition(x, y, shaded.base);
      shadow.visible = !!file.sun_deg;
      shadow.matrix.multiplyMatrices(fallen, mesh.matrix);
      mesh.matrixWorldNeedsUpdate = true;
      shadow.matrixWorldNeedsUpdate = true;
      tint(shaded, sun, turnOf(thing));
    }
  }

  dispose(): void {
    for (const id of [...this.shaded.keys()]) this.drop(id);
    this.ground.geometry.dispose();
    this.ground.material.dispose();
    this.dark.dispose();
    this.tinted.dispose();
    this.renderer.dispose();
  }
}

/** A canvas as a PNG. */
export function blobOf(canvas: HTMLCanvasElement): Promise<Blob> {
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error(t("stand.shading.failed")))), "image/png"),
  );
}

function turnOf(thing: StandThing): number {
  return ((thing.turn_deg ?? 0) * Math.PI) / 180;
}

/** The way to the sun from its bearing and height. */
function wayTo([bearing_deg, height_deg]: [number, number]): Spot {
  const [bearing, height] = [(bearing_deg * Math.PI) / 180, (height_deg * Math.PI) / 180];
  return [Math.sin(bearing) * Math.cos(height), Math.cos(bearing) * Math.cos(height), Math.sin(height)];
}

/** Carries every point along the light on to the level ground. */
function flattened([x, y, z]: Spot): Matrix4 {
  return new Matrix4().set(1, 0, -x / z, 0, 0, 1, -y / z, 0, 0, 0, 0, 0, 0, 0, 0, 1);
}

/** Tint a surface by how squarely it faces the sun (Lambert). */
function tint(shaded: Shaded, sun: Spot, turn: number): void {
  const lit = [...sun, turn].join();
  if (shaded.lit === lit) return;
  shaded.lit = lit;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  // the sun as the thing's own frame has it
  const [sx, sy, sz]: Spot = [c * sun[0] + s * sun[1], -s * sun[0] + c * sun[1], sun[2]];
  const normal = shaded.mesh.geometry.getAttribute("normal");
  const tints = new Float32Array(3 * normal.count);
  const { r, g, b } = shaded.paint;
  for (let i = 0; i < normal.count; i++) {
    const [x, y, z] = [normal.getX(i), normal.getY(i), normal.getZ(i)];
    const light = Math.min(1.08, AMBIENT + SUN * Math.max(0, x * sx + y * sy + z * sz) + SKY * z);
    tints.set([light * r, light * g, light * b], 3 * i);
  }
  shaded.mesh.geometry.setAttribute("color", new Float32BufferAttribute(tints, 3));
}

function vector([x, y, z]: Spot): Vector3 {
  return new Vector3(x, y, z);
}

/** A thing's surface as triangles in its own frame. */
export function surfaceOf(solid: Pick<StandSolid, "faces" | "lathes">): BufferGeometry {
  const points: number[] = [];
  const normals: number[] = [];
  const put = (p: Spot, n: Spot) => {
    points.push(...p);
    normals.push(...n);
  };
  for (const face of solid.faces) for (const corner of triangles(face.rings, face.normal)) put(corner, face.normal);
  for (const lathe of solid.lathes) {
    const { origin, axis, first_way } = lathe;
    const second = cross(axis, first_way);
    const at = (i: number, turn: number): Spot => {
      const [c, s] = [Math.cos(turn) * (lathe.radius[i] ?? 0), Math.sin(turn) * (lathe.radius[i] ?? 0)];
      const z = lathe.height[i] ?? 0;
      return origin.map((o, n) => o + c * (first_way[n] ?? 0) + s * (second[n] ?? 0) + z * (axis[n] ?? 0)) as Spot;
    };
    for (let i = 0; i + 1 < lathe.radius.length; i++) {
      if (lathe.radius[i] === 0 && lathe.radius[i + 1] === 0) continue;
      // [end of the band, and the band that it shares its shading with there]
      const slopes = [slopeOf(lathe, i, i - 1, i), slopeOf(lathe, i, i + 1, i + 1)] as const;
      const normal = (end: 0 | 1, turn: number): Spot => {
        const [out, along] = slopes[end];
        const [c, s] = [Math.cos(turn) * out, Math.sin(turn) * out];
        return axis.map((a, n) => c * (first_way[n] ?? 0) + s * (second[n] ?? 0) + along * a) as Spot;
      };
      for (let k = 0; k < ROUND; k++) {
        const [a, b] = [(2 * Math.PI * k) / ROUND, (2 * Math.PI * (k + 1)) / ROUND];
        if (lathe.radius[i] !== 0) {
          put(at(i, a), normal(0, a));
          put(at(i, b), normal(0, b));
          put(at(i + 1, b), normal(1, b));
        }
        if (lathe.radius[i + 1] !== 0) {
          put(at(i, a), normal(0, a));
          put(at(i + 1, b), normal(1, b));
          put(at(i + 1, a), normal(1, a));
        }
      }
    }
  }
  const found = new BufferGeometry();
  found.setAttribute("position", new Float32BufferAttribute(points, 3));
  found.setAttribute("normal", new Float32BufferAttribute(normals, 3));
  return found;
}

/** Outward normal of a band at one of its circles, out from the axis and along it; smooth with its neighbour where that circle is no edge. */
function slopeOf(
  lathe: StandSolid["lathes"][number],
  band: number,
  neighbour: number,
  circle: number,
): [number, number] {
  const of = (i: number): [number, number] => {
    const dr = (lathe.radius[i + 1] ?? 0) - (lathe.radius[i] ?? 0);
    const dz = (lathe.height[i + 1] ?? 0) - (lathe.height[i] ?? 0);
    const size = Math.hypot(dr, dz) || 1;
    return [dz / size, -dr / size];
  };
  const own = of(band);
  if (lathe.corner[circle] || neighbour < 0 || neighbour + 1 >= lathe.radius.length) return own;
  const next = of(neighbour);
  const [out, along] = [own[0] + next[0], own[1] + next[1]];
  const size = Math.hypot(out, along) || 1;
  return [out / size, along / size];
}

/** A flat face with holes as triangles, anticlockwise seen from its normal's tip. */
function triangles(rings: Spot[][], normal: Spot): Spot[] {
  const [outer = [], ...holes] = rings;
  const [first, second] = outer;
  if (!first || !second) return [];
  const across = vector(second).sub(vector(first)).normalize();
  const along = vector(normal).cross(across);
  const flat = (ring: Spot[]) => ring.map((p) => new Vector2(vector(p).dot(across), vector(p).dot(along)));
  const all = rings.flat();
  return ShapeUtils.triangulateShape(flat(outer), holes.map(flat)).flatMap((corners) =>
    corners.map((n) => all[n] ?? first),
  );
}
