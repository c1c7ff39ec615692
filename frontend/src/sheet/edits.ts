import {
  type Alignment,
  type Along,
  type Division,
  type Edge,
  type Face,
  type Family,
  type Form,
  type FormKind,
  formIdOf,
  type Height,
  isEdge,
  isFace,
  isRim,
  type Length,
  type PartAlong,
  type Plane,
  type Point,
  type Rim,
  type Sheet,
  type Sighting,
} from "../api/types";
import { FAMILIES } from "../ui/marks";
import { t } from "../words";

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

/** A name that nothing on the sheet has yet: the stem with the least number that is free. */
function freshName(sheet: Sheet, stem: string, but?: string): string {
  const taken = new Set(sightingsOf(sheet).flatMap((s) => (s.id === but ? [] : [s.name])));
  let n = 1;
  while (taken.has(`${stem} ${n}`)) n += 1;
  return `${stem} ${n}`;
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
  const added: Edge = {
    id,
    kind: "edge",
    name: freshName(sheet, FAMILIES[edge.family].name),
    ...edge,
  };
  return { sheet: { ...sheet, sightings: [...sightingsOf(sheet), added] }, id };
}

/** Add what is measured beside edges and rims, under a fresh id and a name that counts its kind. */
function addMeasured<S extends Length | Alignment | Face | Division | Height>(
  sheet: Sheet,
  stem: string,
  called: string,
  made: Omit<S, "id" | "name">,
): { sheet: Sheet; id: string } {
  const list = sightingsOf(sheet);
  const id = freshId(new Set(list.map((s) => s.id)), stem);
  const added = { id, name: freshName(sheet, called), ...made } as unknown as Sighting;
  return { sheet: { ...sheet, sightings: [...list, added] }, id };
}

/** The length that all others are compared with. */
export function unitOf(sheet: Sheet): Length | null {
  return sightingsOf(sheet).find((s): s is Length => s.kind === "length" && !!s.unit) ?? null;
}

/** A length; the first is the unit. */
export function addLength(sheet: Sheet, form: string, p: Point, q: Point, judged_ratio: number | null) {
  const unit = unitOf(sheet) === null;
  const made = { kind: "length" as const, form, p, q, along: "edge" as const, unit, judged_ratio };
  return addMeasured<Length>(sheet, "m", unit ? t("sheet.edits.unit") : t("sheet.edits.length"), made);
}

export function addAlignment(
  sheet: Sheet,
  along: Alignment["along"],
  p: Point,
  q: Point,
  judged_tilt_deg: number | null = null,
) {
  const called = { plumb: t("sheet.edits.plumb"), level: t("sheet.edits.level"), tilt: t("sheet.edits.tilt") }[along];
  return addMeasured<Alignment>(sheet, "a", called, { kind: "alignment", along, p, q, judged_tilt_deg });
}

export function addFace(sheet: Sheet, form: string, families: Face["families"], corners: [Point, Point, Point, Point]) {
  return addMeasured<Face>(sheet, "f", t("sheet.edits.face"), { kind: "face", form, families, corners });
}

export function addDivision(sheet: Sheet, face: string, point: Point, judged_part: number | null) {
  return addMeasured<Division>(sheet, "d", t("sheet.edits.part"), {
    kind: "division",
    face,
    along: "across",
    point,
    judged_part,
  });
}

export function addHeight(
  sheet: Sheet,
  foot: Point,
  top: Point,
  said: { judged_m?: number | null; known_m?: number | null },
) {
  return addMeasured<Height>(sheet, "h", t("sheet.edits.height"), { kind: "height", foot, top, ...said });
}

export function setAlong(sheet: Sheet, id: string, along: Along | PartAlong): Sheet {
  return changeSighting(sheet, id, (s) =>
    s.kind === "length" || s.kind === "division" ? ({ ...s, along } as Sighting) : s,
  );
}

/** Make one length the unit, in place of the one that was. */
export function setUnit(sheet: Sheet, id: string): Sheet {
  const sightings = sightingsOf(sheet).map((s) => (s.kind === "length" ? { ...s, unit: s.id === id } : s));
  return { ...sheet, sightings };
}

export function setKnown(sheet: Sheet, id: string, known_m: number | null): Sheet {
  return changeSighting(sheet, id, (s) => (s.kind === "height" ? { ...s, known_m } : s));
}

/** Say that an end of an edge is cut off by something in front, or that it is a corner after all. */
export function setHidden(sheet: Sheet, id: string, tip: "p" | "q", cut: boolean): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (s.kind !== "edge") return s;
    const hidden = (s.hidden ?? []).filter((t) => t !== tip);
    return { ...s, hidden: cut ? [...hidden, tip] : hidden };
  });
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
  const added: Rim = { id, kind: "rim", name: freshName(sheet, t("sheet.edits.rim")), points: [], ...rim };
  const empty = !list.some((s) => formIdOf(sheet, s) === rim.form);
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
    if (isFace(s)) {
      const corners = s.corners.map((at, k) => (key === `corner${k}` ? to : at)) as [Point, Point, Point, Point];
      return { ...s, corners };
    }
    if (s.kind === "division") return { ...s, point: to };
    if (s.kind === "height") return key === "p" ? { ...s, foot: to } : { ...s, top: to };
    if (isEdge(s) || s.kind === "length" || s.kind === "alignment")
      return key === "p" || key === "q" ? { ...s, [key]: to } : s;
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
    if (s.kind === "edge" || (s.kind === "alignment" && s.along === "tilt")) return { ...s, judged_tilt_deg: value };
    if (s.kind === "length") return { ...s, judged_ratio: value };
    if (s.kind === "division") return { ...s, judged_part: value };
    if (s.kind === "height") return { ...s, judged_m: value };
    return s.kind === "rim" ? { ...s, judged_degree_deg: value } : s;
  });
}

export function setFamily(sheet: Sheet, id: string, family: Family): Sheet {
  return changeSighting(sheet, id, (s) => {
    if (s.kind !== "edge") return s;
    const { slope: _slope, plan: _plan, ...rest } = s;
    // a name that was made from the family follows it; a name that somebody gave stays
    const own = s.name && !new RegExp(`^${FAMILIES[s.family].name} \\d+$`).test(s.name);
    const name = own ? s.name : freshName(sheet, FAMILIES[family].name, id);
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
  return changeSighting(sheet, id, (s) => (s.kind === "division" ? s : { ...s, form }));
}

export function rename(sheet: Sheet, id: string, name: string): Sheet {
  return changeSighting(sheet, id, (s) => ({
    ...s,
    name: name.trim().slice(0, 200) || null,
  }));
}

/** Take a sighting away; what stands on a face goes with it. */
export function remove(sheet: Sheet, id: string): Sheet {
  return {
    ...sheet,
    sightings: sightingsOf(sheet).filter((s) => s.id !== id && !(s.kind === "division" && s.face === id)),
  };
}

/** Whether the program found it and nobody has accepted it. */
export const isProposed = (s: Sighting): boolean => s.proposed === true;

/** Of proposals those that are less sure than even; they are folded away until asked for. */
export const isLessSure = (s: Sighting): boolean => isProposed(s) && (s.confidence ?? 1) < 0.5;

/** Whether the person has judged anything on it by eye. */
export const hasJudged = (sheet: Sheet): boolean =>
  !!sheet.judged_eye_level ||
  sightingsOf(sheet).some((s) => Object.entries(s).some(([key, value]) => key.startsWith("judged_") && value != null));

/** Proposals accepted: from now on they are sightings like any other. */
export function accept(sheet: Sheet, ids: string[]): Sheet {
  const taken = new Set(ids);
  return {
    ...sheet,
    sightings: sightingsOf(sheet).map((s) => {
      if (!taken.has(s.id)) return s;
      const { proposed: _proposed, confidence: _confidence, ...accepted } = s;
      return accepted as Sighting;
    }),
  };
}

/** Proposals struck out; a form that nothing is left of goes with them. */
export function strikeOut(sheet: Sheet, ids: string[]): Sheet {
  const struck = ids.reduce(remove, sheet);
  const gone = new Set(sightingsOf(sheet).flatMap((s) => (ids.includes(s.id) ? [formIdOf(sheet, s)] : [])));
  const held = new Set(sightingsOf(struck).map((s) => formIdOf(struck, s)));
  return { ...struck, forms: formsOf(struck).filter((f) => held.has(f.id) || !gone.has(f.id)) };
}

/** The sheet without its proposals, as it is shown until they may be seen. */
export const withoutProposals = (sheet: Sheet): Sheet =>
  sightingsOf(sheet).some(isProposed)
    ? { ...sheet, sightings: sightingsOf(sheet).filter((s) => !isProposed(s)) }
    : sheet;

const KINDS: Sighting["kind"][] = ["edge", "rim", "length", "alignment", "face", "division", "height"];

/** The sightings as the slips show them: form by form, and of each form edges, rims, lengths, alignments, faces, parts and heights. */
export function inGroups(sheet: Sheet): { form: string | null; sightings: Sighting[] }[] {
  const order = [...formsOf(sheet).map((f) => f.id as string | null), null];
  const groups = new Map<string | null, Sighting[]>(order.map((form) => [form, []]));
  for (const s of sightingsOf(sheet)) {
    const form = formIdOf(sheet, s);
    (groups.get(form) ?? groups.get(null))?.push(s);
  }
  for (const list of groups.values()) list.sort((a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind));
  return [...groups].flatMap(([form, sightings]) => (sightings.length ? [{ form, sightings }] : []));
}

/** Move a sighting past the next of its kind and form. */
export function reorder(sheet: Sheet, id: string, by: -1 | 1): Sheet {
  const list = [...sightingsOf(sheet)];
  const from = list.findIndex((s) => s.id === id);
  const moved = list[from];
  if (!moved) return sheet;
  const like = (s: Sighting) => s.kind === moved.kind && formIdOf(sheet, s) === formIdOf(sheet, moved);
  let to = from + by;
  while (list[to] && !like(list[to] as Sighting)) to += by;
  const other = list[to];
  if (!other) return sheet;
  list[from] = other;
  list[to] = moved;
  return { ...sheet, sightings: list };
}

export function addForm(sheet: Sheet): { sheet: Sheet; id: string } {
  const id = freshId(new Set(formsOf(sheet).map((f) => f.id)), "form-");
  const taken = new Set(formsOf(sheet).map((f) => f.name));
  let n = formsOf(sheet).length + 1;
  while (taken.has(t("sheet.edits.form", { n }))) n += 1;
  const form: Form = { id, kind: "box", name: t("sheet.edits.form", { n }) };
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
