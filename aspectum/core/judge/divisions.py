"""Faces and the parts at which things stand on them: where a part truly is, against where it was judged to be (handbook
section 4).
"""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from aspectum.core.findings import Finding, Note, NoteCode
from aspectum.core.form.agreement import face_miss
from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.faces import Part, face_parts, part_by_corners, part_line
from aspectum.core.judge.lengths import nearest_fraction, weighed
from aspectum.core.plane.homography import upright_corners
from aspectum.core.plane.lines import Floats
from aspectum.core.reasons import FaceReason, PartReason, Rule
from aspectum.core.sightings import Division, Edge, Face, Family, Kind, PartAlong, Point, Setup
from aspectum.core.tolerance import Tolerances, Verdict, beyond, verdict

OF_A_HALF = 0.5  # a part is counted from the nearer end at most half the face away: a length's tolerance, of that half
SAME_APEX = 6.0  # point errors within which two slopes meet in one apex


def face_findings(faces: list[Face], found: SolvedForms | None, setup: Setup, tolerances: Tolerances) -> list[Finding]:
    """Whether the four corners of each face are one flat face of their form."""
    return [face_finding(face, found, setup, tolerances) for face in faces]


def face_finding(face: Face, found: SolvedForms | None, setup: Setup, tolerances: Tolerances) -> Finding:
    def said(verdict: Verdict, rule: Rule, miss_px: float | None = None) -> Finding:
        return Finding(face.id, Kind.FACE, None, None, None, None, None, verdict, FaceReason(rule, miss_px))

    corners = np.array(face.corners)
    if not upright_corners(corners):
        return said(Verdict.UNSURE, Rule.CROSSES_ITSELF)
    if found is None or (face.id not in found.dropped and (face.id, 0) not in found.layout.places):
        return said(Verdict.UNSURE, Rule.BY_ITS_CORNERS)
    miss = found.dropped[face.id] if face.id in found.dropped else face_miss(found, face)
    side = float(np.hypot(*(corners - np.roll(corners, 1, axis=0)).T).min())
    judged = verdict(miss, setup.point_sd_px * math.sqrt(2.0), side * math.tan(math.radians(tolerances.tilt_deg)))
    return said(judged, {Verdict.OFF: Rule.NOT_FLAT, Verdict.UNSURE: Rule.TOO_WEAK}.get(judged, Rule.FLAT), miss)


def division_findings(
    faces: list[Face], divisions: list[Division], found: SolvedForms | None, setup: Setup, tolerances: Tolerances
) -> list[Finding]:
    """Where each division is drawn and where it truly stands; a judged part is weighed against the true one."""
    parts = all_parts(faces, divisions, found, setup)
    by_id = {face.id: face for face in faces}
    return [division_finding(d, by_id[d.face], parts.get(d.id), tolerances) for d in divisions]


def all_parts(faces: list[Face], divisions: list[Division], found: SolvedForms | None, setup: Setup) -> dict[str, Part]:
    """The parts of all divisions of faces whose corners go round."""
    parts: dict[str, Part] = {}
    for face in faces:
        mine = [d for d in divisions if d.face == face.id]
        if mine and upright_corners(np.array(face.corners)):
            told = face_parts(found, face, mine, setup.point_sd_px)
            parts |= {
                d.id: part
                for d, part in zip(mine, told, strict=True)
                if math.isfinite(part.part) and math.isfinite(part.part_sd)
            }
    return parts


def division_finding(division: Division, face: Face, part: Part | None, tolerances: Tolerances) -> Finding:
    judged, along = division.judged_part, division.along
    if part is None:
        reason = PartReason(Rule.NOTHING_TO_CHECK, along, others=(division.face,))
        return Finding(division.id, Kind.DIVISION, judged, None, None, None, None, Verdict.UNSURE, reason)
    found, rule = Verdict.UNSURE, Rule.PART
    if judged is not None:
        allowed = OF_A_HALF * tolerances.length
        found, rule = weighed(judged - part.part, part.part_sd, allowed, Rule.JUDGED_TOO_MUCH, Rule.JUDGED_TOO_LITTLE)
        if found is Verdict.OFF and abs(judged - part.drawn) <= allowed:
            rule = Rule.MEASURED_NOT_CONSTRUCTED
    fraction, over = nearest_part(part.part)
    reason = PartReason(rule, along, fraction, over, part_line(face, along, part.part), (division.face,))
    return Finding(
        division.id, Kind.DIVISION, judged, part.drawn, part.drawn_sd, part.part, part.part_sd, found, reason
    )


def nearest_part(part: float) -> tuple[str | None, float]:
    """The nearest simple part of a face, where it lies on the face at all."""
    if not 0.0 < part < 1.0:
        return None, 0.0
    fraction, over = nearest_fraction(part)
    return str(fraction), over


def spacing_notes(
    faces: list[Face], divisions: list[Division], findings: Iterable[Finding], tolerances: Tolerances
) -> list[Note]:
    """Whether bays, or every other one as windows are, are truly equal; and repeats that are drawn equal and so are
    not.
    """
    by_id = {f.sighting: f for f in findings}
    notes: list[Note] = []
    for face in faces:
        for along in PartAlong:
            told = [by_id[d.id] for d in divisions if d.face == face.id and d.along is along]
            placed = sorted(
                (
                    (f.implied, f.implied_sd, f.sighted, f.sighting)
                    for f in told
                    if f.implied is not None and f.sighted is not None
                ),
                key=lambda row: row[0],
            )
            if len(placed) >= 2:
                notes += spacing_note(placed, tolerances)
    return notes


def spacing_note(placed: list[tuple[float, float | None, float, str]], tolerances: Tolerances) -> list[Note]:
    """For the divisions of one face, in order, as true part, its deviation, the drawn part and the name."""
    ids = tuple(row[3] for row in placed)
    whole = np.array([0.0, *(row[0] for row in placed), 1.0])
    sure = np.array([0.0, *(row[1] or 0.0 for row in placed), 0.0])
    if equal(np.diff(whole), np.hypot(sure[1:], sure[:-1]), tolerances):
        return [
            Note(NoteCode.EQUAL_PARTS, ids, value=float(np.diff(whole).mean()), other=float(sure.max()), text="bays")
        ]
    true, drawn = np.diff([row[0] for row in placed]), np.diff([row[2] for row in placed])
    sds = sure[1:-1]
    spread = np.hypot(sds[1:], sds[:-1])
    every = (slice(None), slice(0, None, 2)) if len(true) > 2 else (slice(None),)
    for take in every:
        bays, sd = true[take], spread[take]
        if len(bays) < 2:
            continue
        if equal(bays, sd, tolerances):
            return [
                Note(
                    NoteCode.EQUAL_PARTS,
                    ids,
                    value=float(bays.mean()),
                    other=float(sd.max()),
                    text="bays" if take == slice(None) else "openings",
                )
            ]
    if len(drawn) > 1 and equal(drawn, np.zeros(len(drawn)), tolerances):
        return [Note(NoteCode.NOT_SHRINKING, ids, value=float(true[0]), other=float(true[-1]))]
    return (
        [Note(NoteCode.UNEQUAL_PARTS, ids, value=float(true.min()), other=float(true.max()))] if len(true) == 2 else []
    )


def equal(bays: Floats, sd: Floats, tolerances: Tolerances) -> bool:
    """Whether none of some bays is beyond doubt wider or narrower than the others."""
    mean = float(bays.mean())
    return not beyond((bays - mean) / mean, sd / mean, tolerances.length).any()


def apex_notes(
    faces: list[Face], edges: list[Edge], found: SolvedForms | None, setup: Setup, tolerances: Tolerances
) -> list[Note]:
    """Whether the apex in which two slopes of a form meet stands over the perspective centre of the wall under it."""
    notes = []
    slopes, near = [e for e in edges if e.family is Family.SLOPE], SAME_APEX * setup.point_sd_px
    for n, one in enumerate(slopes):
        for other in slopes[:n]:
            apex = meeting_end(one, other, near)
            if apex is None or one.slope == other.slope:
                continue
            # rakes that overhang the wall lie in a plane of their own, of which the wall says nothing
            walls = [
                f
                for f in faces
                if f.form == one.form == other.form
                and f.families[1] is Family.UPRIGHT
                and rise_from(f.corners[2:], (one, other), near)
            ]
            for wall in walls:
                at = Division(f"{one.id}/{other.id}", wall.id, PartAlong.ACROSS, apex)
                part = (
                    part_by_corners(wall, at, setup.point_sd_px)
                    if found is None
                    else face_parts(found, wall, [at], setup.point_sd_px)[0]
                )
                if not 0.1 < part.part < 0.9:
                    continue
                off = beyond(part.part - 0.5, part.part_sd, OF_A_HALF * tolerances.length)
                code = NoteCode.APEX_OFF_CENTRE if off else NoteCode.APEX_OVER_CENTRE
                notes.append(Note(code, (other.id, one.id, wall.id), value=part.part, other=part.part_sd))
    return notes


def rise_from(tops: tuple[Point, ...], slopes: tuple[Edge, Edge], near: float) -> bool:
    """Whether each of a wall's two top corners is an end of one of two slopes."""
    return all(any(math.dist(top, end) <= near for e in slopes for end in (e.p, e.q)) for top in tops)


def meeting_end(one: Edge, other: Edge, near: float) -> tuple[float, float] | None:
    """The end that two edges share, or None."""
    for a in (one.p, one.q):
        for b in (other.p, other.q):
            if math.hypot(a[0] - b[0], a[1] - b[1]) <= near:
                return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    return None
