import {
  type Edge,
  type Family,
  type Form,
  type FormKind,
  isEdge,
  isRim,
  type Plane,
  type Point,
  type Rim,
  type Sheet,
  type Sighting,
} from "../api/types";

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

/** A rim laid by the ends of its major axis and a point on the near arc. The first rim makes an
 * empty form a cylinder, whose sides must touch its rims. */
export function addRim(
  sheet: Sheet,
  rim: { form: string; plane: Plane; ends: [Point, Point]; near: Point; judged_degree_deg: number | null },
): { sheet: Sheet; id: string } {
  const list = sightingsOf(sheet);
  const id = freshId(new Set(list.map((s) => s.id)), "r");
  const count = list.filter((s) => isRim(s) && s.form === rim.form).length;
  const added: Rim = { id, kind: "rim", name: `rim ${count + 1}`, points: [], ...rim };
  const empty = !list.some((s) => s.form === rim.form);
  const forms = formsOf(sheet).map((f) => (empty && f.id === rim.form ? { ...f, kind: "cylinder" as const } : f));
  return { sheet: { ...sheet, forms, sightings: [...list, added] }, id };
}

export function setPlane(sheet: Sheet, id: string, plane: Plane): Sheet {
  return changeSighting(sheet, id, (s) => (isRim(s) ? { ...s, plane } : s));
}

export function addArcPoint(sheet: Sheet, id: string, at: Point): Sheet {
  return changeSighting(sheet, id, (s) => (isRim(s) ? { ...s, points: [...(s.points ?? []), at] } : s));
}

/** Take back the arc point laid last; the report says whether the rim can spare it. */
export function dropArcPoint(sheet: Sheet, id: string): Sheet {
  return changeSighting(sheet, id, (s) => (isRim(s) ? { ...s, points: (s.points ?? []).slice(0, -1) } : s));
}

export function moveHandle(sheet: Sheet, id: string, key: string, to: Point): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (isEdge(s)) return key === "p" || key === "q" ? { ...s, [key]: to } : s;
    if (!isRim(s)) return s;
    if (key === "near") return { ...s, near: to };
    if (key.startsWith("end") && s.ends) {
      const [a, b] = s.ends as [Point, Point];
      return { ...s, ends: key === "end0" ? [to, b] : [a, to] };
    }
    const index = Number(key.slice(2));
    return { ...s, points: (s.points ?? []).map((at, k) => (k === index ? to : at)) };
  });
}

/** A judgement typed in later, or taken back. */
export function setJudged(sheet: Sheet, id: string, value: number | null): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (s.kind === "edge") return { ...s, judged_tilt_deg: value };
    return s.kind === "rim" ? { ...s, judged_degree_deg: value } : s;
  });
}

export function setFamily(sheet: Sheet, id: string, family: Family): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (s.kind !== "edge") return s;
    const { slope: _slope, plan: _plan, ...rest } = s;
    // a name that was made from the family follows it; a name that somebody gave stays
    const own = s.name && !new RegExp(`^${s.family} \\d+$`).test(s.name);
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

export function setFormKind(sheet: Sheet, id: string, kind: FormKind): Sheet {
  return { ...sheet, forms: formsOf(sheet).map((f) => (f.id === id ? { ...f, kind } : f)) };
}

export function renameForm(sheet: Sheet, id: string, name: string): Sheet {
  return {
    ...sheet,
    forms: formsOf(sheet).map((f) => (f.id === id ? { ...f, name: name.slice(0, 200) } : f)),
  };
}
