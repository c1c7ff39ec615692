/** What can be typed about a thing of each kind: where its measure lies, and what it is called. */

import type { StandThing } from "../api/types";
import { t } from "../words";

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
const SIZES = [
  metres(["size_m", 0], t("stand.fields.width")),
  metres(["size_m", 1], t("stand.fields.depth")),
  metres(["size_m", 2], t("stand.fields.height")),
];
const LEAN: Measure = { at: ["lean_deg"], label: t("stand.fields.lean"), unit: "°", least: -90, most: 90, step: 5 };
const ROUND = [metres(["radius_m"], t("stand.fields.radius")), metres(["height_m"], t("stand.fields.height")), LEAN];

export const MEASURES: Record<StandThing["kind"], readonly Measure[]> = {
  box: SIZES,
  cylinder: ROUND,
  cone: [...ROUND, metres(["top_radius_m"], t("stand.fields.topRadius"), 0)],
  tube: [
    ...ROUND,
    metres(["wall_m"], t("stand.fields.wall")),
    metres(["floor_m"], t("stand.fields.floor"), 0),
    { ...metres(["top_radius_m"], t("stand.fields.topRadius")), empty: t("stand.fields.asBelow") },
  ],
  turned: [LEAN, { ...metres(["wall_m"], t("stand.fields.wall")), empty: t("stand.fields.solid") }],
  building: [
    ...SIZES,
    metres(["rise_m"], t("stand.fields.roofRise"), 0),
    metres(["eaves_m"], t("stand.fields.eaves"), 0),
  ],
  outline: [metres(["depth_m"], t("stand.fields.depth"))],
  hull: [],
  wheels: [
    metres(["radius_m"], t("stand.fields.radius")),
    metres(["width_m"], t("stand.fields.tyre")),
    metres(["gauge_m"], t("stand.fields.gauge")),
    metres(["axle_radius_m"], t("stand.fields.axleRadius")),
  ],
  section: [{ at: ["share"], label: t("stand.fields.sectionShare"), unit: "", least: 0, most: 1, step: 0.05 }],
  figure: [metres(["height_m"], t("stand.fields.height"))],
  ramp: SIZES,
  levels: [],
};

export const KINDS: Record<StandThing["kind"], string> = {
  box: t("stand.fields.box"),
  cylinder: t("stand.fields.cylinder"),
  cone: t("stand.fields.cone"),
  tube: t("stand.fields.tube"),
  turned: t("stand.fields.turnedForm"),
  building: t("stand.fields.building"),
  outline: t("stand.fields.outline"),
  levels: t("stand.fields.levels"),
  hull: t("stand.fields.hull"),
  wheels: t("stand.fields.wheels"),
  figure: t("stand.fields.figure"),
  ramp: t("stand.fields.ramp"),
  section: t("stand.fields.sectionPlane"),
};

/** Parts of a building, each a list of records. */
export const PARTS = {
  openings: {
    name: t("stand.fields.opening"),
    fresh: { wall: "front", from_left_m: 0.4, sill_m: 0, width_m: 0.8, height_m: 1.9 },
    measures: [
      metres(["from_left_m"], t("stand.fields.left"), 0),
      metres(["sill_m"], t("stand.fields.sill"), 0),
      metres(["width_m"], t("stand.fields.width")),
      metres(["height_m"], t("stand.fields.height")),
    ],
  },
  flights: {
    name: t("stand.fields.steps"),
    fresh: { wall: "front", from_left_m: 0.6, width_m: 1, count: 3 },
    measures: [
      metres(["from_left_m"], t("stand.fields.middleLeft"), 0),
      metres(["width_m"], t("stand.fields.width")),
      { at: ["count"], label: t("stand.fields.stepCount"), unit: "", least: 1, most: 40, step: 1 },
    ],
  },
} as const satisfies Record<string, { name: string; fresh: object; measures: readonly Measure[] }>;

export const CHIMNEY = [
  { at: ["at_m", 0], label: t("stand.fields.rightMiddle"), unit: "m", least: -1000, most: 1000, step: 0.1 },
  { at: ["at_m", 1], label: t("stand.fields.behindMiddle"), unit: "m", least: -1000, most: 1000, step: 0.1 },
  metres(["size_m", 0], t("stand.fields.along")),
  metres(["size_m", 1], t("stand.fields.across")),
  metres(["above_m"], t("stand.fields.aboveRidge")),
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
  { ...metres(["eye_m", 2], t("stand.fields.eyeAboveGround"), -10_000), step: 0.1 },
  degrees(["heading_deg"], t("stand.fields.heading"), -360, 360),
];
export const LENS: readonly Measure[] = [
  degrees(["pitch_deg"], t("stand.fields.looksUp"), -90, 90, 1),
  degrees(["roll_deg"], t("stand.fields.rolled"), -180, 180, 1),
  { at: ["focal_35mm"], label: t("stand.fields.lens"), unit: "mm", least: 2, most: 2000, step: 1, digits: 1 },
];
export const OBLIQUE: readonly Measure[] = [
  degrees(["oblique_deg"], t("stand.fields.depthsRun"), 1, 89),
  { at: ["depth_scale"], label: t("stand.fields.depthScale"), unit: "", least: 0.05, most: 1, step: 0.1 },
];
export const SUN = [
  degrees(["sun_deg", 0], t("stand.fields.sunStands"), -360, 360),
  degrees(["sun_deg", 1], t("stand.fields.sunsHeight"), 2, 90),
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
