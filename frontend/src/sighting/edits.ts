import type { Edge, Family, Form, Point, Sheet, Sighting } from "../api/client";
import { isEdge } from "../api/client";

/** Pure changes of a sheet; each returns a new sheet. */

export function sightingsOf(sheet: Sheet): Sighting[] {
  return sheet.sightings ?? [];
}

export function formsOf(sheet: Sheet): Form[] {
  return sheet.forms ?? [];
}

function freshId(taken: Set<string>, stem: string): string {
  let n = 1;
  while (taken.has(`${stem}${n}`)) n += 1;
  return `${stem}${n}`;
}

export function addEdge(
  sheet: Sheet,
  edge: {
    form: string;
    family: Family;
    p: Point;
    q: Point;
    judged_tilt_deg: number | null;
  },
): { sheet: Sheet; id: string } {
  const id = freshId(new Set(sightingsOf(sheet).map((s) => s.id)), "e");
  const count = sightingsOf(sheet).filter((s) => s.kind === "edge" && s.family === edge.family).length;
  const added: Edge = {
    id,
    kind: "edge",
    name: `${edge.family} ${count + 1}`,
    ...edge,
  };
  return { sheet: { ...sheet, sightings: [...sightingsOf(sheet), added] }, id };
}

export function changeSighting(sheet: Sheet, id: string, change: (s: Sighting) => Sighting): Sheet {
  return {
    ...sheet,
    sightings: sightingsOf(sheet).map((s) => (s.id === id ? change(s) : s)),
  };
}

export function moveEnd(sheet: Sheet, id: string, end: "p" | "q", to: Point): Sheet {
  return changeSighting(sheet, id, (s) => (isEdge(s) ? { ...s, [end]: to } : s));
}

export function setFamily(sheet: Sheet, id: string, family: Family): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (s.kind !== "edge") return s;
    const { slope: _slope, plan: _plan, ...rest } = s;
    // a name that was made from the family follows it; a name that somebody gave stays
    const own = s.name && !/^(left|right|upright|depth|across|slope) \d+$/.test(s.name);
    const count = sightingsOf(sheet).filter((o) => o.kind === "edge" && o.family === family && o.id !== id).length;
    const name = own ? s.name : `${family} ${count + 1}`;
    return {
      ...rest,
      family,
      name,
      ...(family === "slope" ? { slope: "slope-1" } : {}),
    };
  });
}

export function setSlope(sheet: Sheet, id: string, slope: string): Sheet {
  return changeSighting(sheet, id, (s) => (s.kind === "edge" ? { ...s, slope } : s));
}

export function slopesOf(sheet: Sheet, form: string | null | undefined): string[] {
  const found = sightingsOf(sheet).flatMap((s) => (s.kind === "edge" && s.slope && s.form === form ? [s.slope] : []));
  return [...new Set(found)].sort();
}

export function setFormOf(sheet: Sheet, id: string, form: string): Sheet {
  return changeSighting(sheet, id, (s) => ({ ...s, form }));
}

export function rename(sheet: Sheet, id: string, name: string): Sheet {
  return changeSighting(sheet, id, (s) => ({
    ...s,
    name: name.trim().slice(0, 200) || null,
  }));
}

export function remove(sheet: Sheet, id: string): Sheet {
  return { ...sheet, sightings: sightingsOf(sheet).filter((s) => s.id !== id) };
}

export function reorder(sheet: Sheet, id: string, by: -1 | 1): Sheet {
  const list = [...sightingsOf(sheet)];
  const from = list.findIndex((s) => s.id === id);
  const to = from + by;
  const [moved, other] = [list[from], list[to]];
  if (!moved || !other) return sheet;
  list[from] = other;
  list[to] = moved;
  return { ...sheet, sightings: list };
}

export function addForm(sheet: Sheet): { sheet: Sheet; id: string } {
  const id = freshId(new Set(formsOf(sheet).map((f) => f.id)), "form-");
  const form: Form = {
    id,
    kind: "box",
    name: `Form ${formsOf(sheet).length + 1}`,
  };
  return { sheet: { ...sheet, forms: [...formsOf(sheet), form] }, id };
}

export function renameForm(sheet: Sheet, id: string, name: string): Sheet {
  return {
    ...sheet,
    forms: formsOf(sheet).map((f) => (f.id === id ? { ...f, name: name.slice(0, 200) } : f)),
  };
}
