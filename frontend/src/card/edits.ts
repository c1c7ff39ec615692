import type { Alignment, Along, Edge, Length, Rim, Sheet, Sighting, Slot } from "../api/types";
import { changeSighting, sightingsOf } from "../sheet/edits";

/** What is about to be read: a place on the card, or something beside it. `again`: the reading that is repeated. */
export type What =
  | { kind: "edge"; slot: EdgeSlot; again: string | null; words: string }
  | { kind: "length"; slot: Slot; again: string | null; words: string }
  | { kind: "rim"; again: string | null; words: string }
  | { kind: "alignment"; along: "plumb" | "level"; words: string };
export type EdgeSlot = Pick<Slot, "form" | "side" | "end">;

/** What a reading came to, and what it was read with. */
export interface Read {
  value: number;
  with: "stick" | "gauge";
  held_sd_deg?: number;
  /** Of a length that is no line of the card: what it is, and which way it was measured. */
  name?: string;
  along?: Along;
}

/** A length beside those of the card. */
export function freeLength(form: string): Slot {
  return {
    form,
    kind: "length",
    p: [0, 0],
    q: [0, 0],
    side: null,
    end: null,
    along: "edge",
    of: null,
    sighting: null,
    words: "length",
  };
}

function fresh(sheet: Sheet, stem: string): string {
  const taken = new Set(sightingsOf(sheet).map((s) => s.id));
  let n = 1;
  while (taken.has(`${stem}${n}`)) n += 1;
  return `${stem}${n}`;
}

function added<S extends Sighting>(sheet: Sheet, sighting: S): { sheet: Sheet; id: string } {
  return { sheet: { ...sheet, sightings: [...sightingsOf(sheet), sighting] }, id: sighting.id };
}

/** Another reading of what was read before; the server averages them. */
function repeated(sheet: Sheet, id: string, value: number): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (s.kind === "edge") return { ...s, repeats_deg: [...(s.repeats_deg ?? []), value] };
    if (s.kind === "length" || s.kind === "rim") return { ...s, repeats: [...(s.repeats ?? []), value] } as Sighting;
    return s;
  });
}

export function addTilt(
  sheet: Sheet,
  what: What & { kind: "edge" },
  judged: number | null,
  read: Read,
): { sheet: Sheet; id: string } {
  if (what.again) return { sheet: repeated(sheet, what.again, read.value), id: what.again };
  const { form, side, end } = what.slot;
  const edge: Edge = {
    id: fresh(sheet, "t"),
    kind: "edge",
    form,
    family: side ?? "upright",
    name: what.words,
    end: end === 0 ? "near-top" : end === 1 ? "near-bottom" : end,
    tilt_deg: read.value,
    taken_with: read.with,
    held_sd_deg: read.held_sd_deg ?? null,
    judged_tilt_deg: judged,
  };
  return added(sheet, edge);
}

export function addRatio(
  sheet: Sheet,
  what: What & { kind: "length" },
  judged: number | null,
  read: Read,
): { sheet: Sheet; id: string } {
  if (what.again) return { sheet: repeated(sheet, what.again, read.value), id: what.again };
  const { form, side, along, of } = what.slot;
  const length = {
    id: fresh(sheet, "m"),
    kind: "length",
    form,
    side,
    of,
    along: read.along ?? along ?? "edge",
    name: read.name || what.words,
    ratio: read.value,
    judged_ratio: judged,
  } as Length;
  return added(sheet, length);
}

/** Where a rim's middle stands and how wide it is, as far as the thumb told. */
export type RimPlace = Pick<Rim, "down" | "across" | "width" | "from_below">;

export function addRimReading(
  sheet: Sheet,
  what: What & { kind: "rim" },
  judged: number | null,
  read: Read,
  place: RimPlace,
): { sheet: Sheet; id: string } {
  if (what.again) return { sheet: repeated(sheet, what.again, read.value), id: what.again };
  const id = fresh(sheet, "r");
  const form = { id: fresh({ ...sheet, sightings: [] }, `rims-${id}-`), kind: "cylinder" as const, name: what.words };
  const value = read.with === "gauge" ? { sight_deg: read.value } : { ratio: read.value };
  const rim: Rim = { id, kind: "rim", form: form.id, name: what.words, ...value, ...place, judged_degree_deg: judged };
  return added({ ...sheet, forms: [...(sheet.forms ?? []), form] }, rim);
}

export function addAlignmentReading(
  sheet: Sheet,
  what: What & { kind: "alignment" },
  told: { first: string; second: string; judged: number | null; beside: number },
): { sheet: Sheet; id: string } {
  const alignment: Alignment = {
    id: fresh(sheet, "a"),
    kind: "alignment",
    along: what.along,
    name: [told.first, told.second].filter(Boolean).join(" / ") || what.words,
    first: told.first,
    second: told.second,
    judged_beside: told.judged,
    beside: told.beside,
  };
  return added(sheet, alignment);
}

/** Take one of several readings of the same thing back; the last one left takes the sighting with it. */
export function dropRepeat(sheet: Sheet, id: string, place: number): Sheet {
  return changeSighting(sheet, id, (s) => {
    const without = (first: number, more: number[] | null | undefined) =>
      [first, ...(more ?? [])].filter((_, n) => n !== place);
    if (s.kind === "edge" && s.tilt_deg != null) {
      const [first, ...rest] = without(s.tilt_deg, s.repeats_deg);
      return { ...s, tilt_deg: first ?? s.tilt_deg, repeats_deg: rest };
    }
    if (s.kind === "length" && s.ratio != null) {
      const [first, ...rest] = without(s.ratio, s.repeats);
      return { ...s, ratio: first ?? s.ratio, repeats: rest };
    }
    if (s.kind === "rim" && s.ratio != null) {
      const [first, ...rest] = without(s.ratio, s.repeats);
      return { ...s, ratio: first ?? s.ratio, repeats: rest };
    }
    if (s.kind === "rim" && s.sight_deg != null) {
      const [first, ...rest] = without(s.sight_deg, s.repeats);
      return { ...s, sight_deg: first ?? s.sight_deg, repeats: rest };
    }
    return s;
  });
}
