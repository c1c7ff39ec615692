/** What can be typed about a thing of each kind: where its measure lies, and what it is called. */
import type { StandThing } from "../api/types";

export interface Measure {
  /** Entries that lead to the number: `["size_m", 0]`. */
  at: readonly (string | number)[];
  label: string;
  unit: "m" | "mm" | "°" | "";
  least: number;
  most: number;
  step: number;
  /** Places after the point that are shown; three by default. */
  digits?: number;
  /** What an empty field means, where it may be empty. */
  empty?: string;
}

const metres = (at: Measure["at"], label: string, least = 0.001): Measure => ({
  at,
  label,
  unit: "m",
  least,
  most: 10_000,
  step: 0.01,
});
const SIZES = [metres(["size_m", 0], "width"), metres(["size_m", 1], "depth"), metres(["size_m", 2], "height")];
const LEAN: Measure = { at: ["lean_deg"], label: "lean", unit: "°", least: -90, most: 90, step: 5 };
const ROUND = [metres(["radius_m"], "radius"), metres(["height_m"], "height"), LEAN];

export const MEASURES: Record<StandThing["kind"], readonly Measure[]> = {
  box: SIZES,
  cylinder: ROUND,
  cone: [...ROUND, metres(["top_radius_m"], "top radius", 0)],
  tube: [
    ...ROUND,
    metres(["wall_m"], "wall"),
    metres(["floor_m"], "floor", 0),
    { ...metres(["top_radius_m"], "top radius"), empty: "as below" },
  ],
  turned: [LEAN, { ...metres(["wall_m"], "wall"), empty: "solid" }],
  building: [...SIZES, metres(["rise_m"], "roof rise", 0), metres(["eaves_m"], "eaves", 0)],
  outline: [metres(["depth_m"], "depth")],
  hull: [],
  wheels: [
    metres(["radius_m"], "radius"),
    metres(["width_m"], "tyre"),
    metres(["gauge_m"], "gauge"),
    metres(["axle_radius_m"], "axle radius"),
  ],
  section: [{ at: ["share"], label: "share of its length", unit: "", least: 0, most: 1, step: 0.05 }],
  figure: [metres(["height_m"], "height")],
  ramp: SIZES,
  levels: [],
};

export const KINDS: Record<StandThing["kind"], string> = {
  box: "Box",
  cylinder: "Cylinder",
  cone: "Cone",
  tube: "Tube, open above",
  turned: "Turned form",
  building: "Building",
  outline: "Outline carried through",
  levels: "Form of two elevations",
  hull: "Hull of sections",
  wheels: "Wheels on an axle",
  figure: "Figure",
  ramp: "Ramp",
  section: "Section plane",
};

/** Parts of a building, each a list of records. */
export const PARTS = {
  openings: {
    name: "Opening",
    fresh: { wall: "front", from_left_m: 0.4, sill_m: 0, width_m: 0.8, height_m: 1.9 },
    measures: [
      metres(["from_left_m"], "from left", 0),
      metres(["sill_m"], "sill", 0),
      metres(["width_m"], "width"),
      metres(["height_m"], "height"),
    ],
  },
  flights: {
    name: "Steps",
    fresh: { wall: "front", from_left_m: 0.6, width_m: 1, count: 3 },
    measures: [
      metres(["from_left_m"], "middle, from left", 0),
      metres(["width_m"], "width"),
      { at: ["count"], label: "steps", unit: "", least: 1, most: 40, step: 1 },
    ],
  },
} as const satisfies Record<string, { name: string; fresh: object; measures: readonly Measure[] }>;

export const CHIMNEY = [
  { at: ["at_m", 0], label: "right of the middle", unit: "m", least: -1000, most: 1000, step: 0.1 },
  { at: ["at_m", 1], label: "behind the middle", unit: "m", least: -1000, most: 1000, step: 0.1 },
  metres(["size_m", 0], "along"),
  metres(["size_m", 1], "across"),
  metres(["above_m"], "above the ridge"),
] as const satisfies readonly Measure[];

const degrees = (at: Measure["at"], label: string, least: number, most: number, step = 5): Measure => ({
  at,
  label,
  unit: "°",
  least,
  most,
  step,
  digits: 1,
});

/** What can be typed about a view: of every one, of one with a lens, and of an oblique one; and about the sun. */
export const VIEW = [
  { ...metres(["eye_m", 2], "eye above ground", -10_000), step: 0.1 },
  degrees(["heading_deg"], "heading", -360, 360),
];
export const LENS: readonly Measure[] = [
  degrees(["pitch_deg"], "looks up", -90, 90, 1),
  degrees(["roll_deg"], "rolled", -180, 180, 1),
  { at: ["focal_35mm"], label: "lens", unit: "mm", least: 2, most: 2000, step: 1, digits: 1 },
];
export const OBLIQUE: readonly Measure[] = [
  degrees(["oblique_deg"], "depths run at", 1, 89),
  { at: ["depth_scale"], label: "depth scale", unit: "", least: 0.05, most: 1, step: 0.1 },
];
export const SUN = [
  degrees(["sun_deg", 0], "sun stands at", -360, 360),
  degrees(["sun_deg", 1], "sun’s height", 2, 90),
];

/** The number that a measure names; null where the entry is left out. */
export function read(record: object, at: Measure["at"]): number | null {
  let value: unknown = record;
  for (const step of at) value = (value as Record<string | number, unknown> | null | undefined)?.[step];
  return typeof value === "number" ? value : null;
}

/** The record with that number changed. */
export function written<T extends object>(record: T, at: Measure["at"], value: number | null): T {
  const [step, ...rest] = at;
  if (step === undefined) return record;
  const old = (record as Record<string | number, unknown>)[step];
  const next = rest.length > 0 ? written(old as object, rest, value) : value;
  if (Array.isArray(record)) return record.map((one, n) => (n === step ? next : one)) as unknown as T;
  return { ...record, [step]: next };
}
