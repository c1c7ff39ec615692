"""The ``aspectum`` command."""

from __future__ import annotations

import os
import sys
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import click

from aspectum.language import Text, figure, say
from aspectum.over_files import one_line, over_files
from aspectum.picture_commands import find
from aspectum.server_commands import serve, tutor
from aspectum.upkeep_commands import backup, doctor, restore

if TYPE_CHECKING:
    from aspectum.core.drawing.hand import Hand
    from aspectum.core.tolerance import Tolerances
    from aspectum.formats.critique import Critique
    from aspectum.formats.logbook import LogbookLine
    from aspectum.formats.plan import Plan
    from aspectum.formats.report import Report
    from aspectum.formats.sheet import SightingSheet
    from aspectum.formats.stand import StandDrawing, StandSteps


@click.group()
@click.version_option(package_name="aspectum")
def main() -> None:
    """Aspectum: check the sightings of a drawing against eye level and vanishing points."""
    # the matrices are small: threads inside the algebra only get in each other's way; read when numpy is first imported
    for library in ("OPENBLAS", "OMP", "MKL"):
        os.environ.setdefault(f"{library}_NUM_THREADS", "1")


main.add_command(find)
main.add_command(serve)
main.add_command(tutor)
main.add_command(backup)
main.add_command(restore)
main.add_command(doctor)


@main.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print one JSON report a line.")
@click.option(
    "--tolerance",
    default=None,
    help=(
        "In place of the sheet's own: freehand, ruled, or TILT,LENGTH,DEGREE (degrees, per cent, degrees), such as "
        "2,5,4."
    ),
)
@click.option(
    "--lowest-rim",
    default=None,
    type=click.FloatRange(0, 30),
    help="Degrees by which the lowest rim of a form may be rounder besides.",
)
@click.option("--ladders", is_flag=True, help="Also print the rims that each round form must have, height by height.")
@click.option("--accept-proposed", is_flag=True, help="Let what the program proposed take part.")
def check(
    files: tuple[Path, ...],
    as_json: bool,
    tolerance: str | None,
    lowest_rim: float | None,
    ladders: bool,
    accept_proposed: bool,
) -> None:
    """Judge every sighting of the sighting sheets FILES.

    Exits 0 when all files were read and judged, 2 when any could not be.
    """
    asked = None if tolerance is None else parse_tolerance(tolerance)
    over_files(files, partial(judged, asked, lowest_rim or 0.0, as_json, ladders, accept_proposed), side_by_side=True)


def judged(
    asked: Tolerances | None, lowest_rim: float, as_json: bool, ladders: bool, accept_proposed: bool, path: Path
) -> str:
    """The report of one sheet as it was asked for."""
    from aspectum.formats.sheet import read_sheet
    from aspectum.service.sheets.checking import check_sheet
    from aspectum.service.sheets.from_sheet import kept_tolerances

    sheet = read_sheet(path.read_bytes())
    if accept_proposed:
        sheet = sheet.accepting()
    tolerances = replace(asked or kept_tolerances(sheet), lowest_rim_deg=lowest_rim)
    report = check_sheet(sheet, tolerances, file=path.name)
    return report.model_dump_json() if as_json else table(sheet, report, ladders)


def parse_tolerance(text: str) -> Tolerances:
    from aspectum.core.tolerance import FREEHAND, RULED, Tolerances

    if text in ("freehand", "ruled"):
        return FREEHAND if text == "freehand" else RULED
    try:
        values = [float(v) for v in text.split(",")]
    except ValueError:
        values = []
    if not 1 <= len(values) <= 3 or not all(0 < v < 90 for v in values):
        raise click.BadParameter(
            say(
                "expected freehand, ruled, or up to three numbers: tilt in degrees, length in per cent, degree in "
                "degrees"
            ),
            param_hint="--tolerance",
        )
    defaults = [FREEHAND.tilt_deg, FREEHAND.length * 100, FREEHAND.degree_deg]
    tilt, length, degree = values + defaults[len(values) :]
    return Tolerances(tilt, length / 100, degree)


@main.command()
@click.argument("subject", type=click.Path(path_type=Path))
@click.argument("drawings", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print one JSON critique a line.")
@click.option(
    "--tolerance", default=None, help="In place of the drawing's own: freehand, ruled, or TILT,LENGTH,DEGREE."
)
@click.option(
    "--hand",
    default=None,
    help="How steady the hand is: MM,DEGREES,PER CENT of each line's ends, tilt and length; 0.7,1.2,2.5 by default.",
)
def critique(subject: Path, drawings: tuple[Path, ...], as_json: bool, tolerance: str | None, hand: str | None) -> None:
    """Judge DRAWINGS, sighted on flattened paper, against the sighting sheet SUBJECT.

    Exits 0 when all were read and judged, 2 when any could not be.
    """
    from aspectum.core.drawing.hand import FREEHAND_HAND
    from aspectum.formats.sheet import read_sheet
    from aspectum.service.paper.critique import judge_drawing

    asked, steady = (
        None if tolerance is None else parse_tolerance(tolerance),
        FREEHAND_HAND if hand is None else parse_hand(hand),
    )
    try:
        against = read_sheet(subject.read_bytes())
    except Exception as error:
        click.echo(one_line(subject, error), err=True)
        sys.exit(2)

    def tell(path: Path) -> str:
        found = judge_drawing(against, read_sheet(path.read_bytes()), asked, steady)
        return found.model_dump_json() if as_json else critique_table(found)

    over_files(drawings, tell)


def parse_hand(text: str) -> Hand:
    from aspectum.core.drawing.hand import Hand

    try:
        values = [float(v) for v in text.split(",")]
    except ValueError:
        values = []
    if len(values) != 3 or not all(0 < v < 90 for v in values):
        raise click.BadParameter(say("expected three numbers: mm, degrees and per cent"), param_hint="--hand")
    return Hand(values[0], values[1], values[2] / 100)


def critique_table(found: Critique) -> str:
    """A critique for people: what holds, the causes, every sighting, notes."""
    lines = [f"{found.drawing or 'drawing'}  against  {found.subject}"]
    lines += [f"  holds        {words}" for words in found.holds]
    for n, cause in enumerate(found.causes, 1):
        lines.append(
            say(
                "  cause {n}      {words} ({explains:.0%} of what is off)",
                n=n,
                words=cause.words,
                explains=cause.explains,
            )
        )
        lines += [f"               {words}" for words in (cause.advice, cause.instead) if words]
    if not found.causes and found.findings:
        lines.append(say("  no cause     nothing beyond what a hand wobbles"))
    width = max([len(f.sighting) for f in found.findings], default=0)
    lines += [f"  {f.sighting:<{width}}  {f.kind:<9} {MARKS[f.verdict]:<8}  {f.words}" for f in found.findings]
    lines += [say("  own terms    {words}", words=words) for words in found.own.words]
    lines += [f"  note: {note}" for note in found.notes]
    return "\n".join(lines)


MARKS = {"holds": Text("✓ holds"), "off": Text("✗ off"), "unsure": Text("? unsure")}


def table(sheet: SightingSheet, report: Report, ladders: bool = False) -> str:
    """A report for people: eye level, vanishing points, one row a sighting, notes."""

    def number(value: float | None, places: int = 1) -> str:
        return "–" if value is None else f"{round(value, places) + 0.0:.{places}f}"

    from aspectum.core.aids.standpoint import STRAIGHT

    lines = [f"{report.file or ''}  {sheet.title}".strip(), f"  perspective  {report.perspective}"]
    level = report.eye_level
    if report.view in STRAIGHT:
        lines.append(say("  eye level    not in the picture (looking {view})", view=report.view))
    elif level.left_y_px is None or level.right_y_px is None:
        lines.append(say("  eye level    not fixed"))
    else:
        spread = "" if level.source == "given" else f" ± {number(level.sd_px)}"
        lines.append(
            say(
                "  eye level    {left_y_px}{spread} px at the middle ({source})",
                left_y_px=number((level.left_y_px + level.right_y_px) / 2),
                spread=spread,
                source=level.source,
            )
        )
    if report.camera is not None and report.camera.focal_px is not None:
        camera = report.camera
        lines.append(
            say(
                "  view         {view_deg}° wide, pitch {pitch_deg}°, roll {roll_deg}°",
                view_deg=number(camera.view_deg),
                pitch_deg=number(camera.pitch_deg),
                roll_deg=number(camera.roll_deg),
            )
        )
    for v in report.vanishing_points:
        who = f"{v.form or 'all'} {v.slope or v.family}"
        where = (
            f"({v.x_px:.0f}, {v.y_px:.0f})"
            if v.x_px is not None and v.y_px is not None
            else say("at infinity, tilt {direction_deg}°", direction_deg=number(v.direction_deg))
        )
        lines.append(
            say("  VP           {who}: {where}", who=who, where=where)
            + ("" if v.sd_px is None else f" ± {v.sd_px:.0f}")
        )
    names = {s.id: s.name or s.id for s in sheet.accepted}
    width = max([len(n) for n in names.values()], default=0)
    for f in report.findings:
        upright = f.sighted_lean_deg is not None
        values = (
            (f.judged_lean_deg, f.sighted_lean_deg, f.implied_lean_deg) if upright else (f.judged, f.sighted, f.implied)
        )
        places = 2 if f.kind in ("length", "division", "height") else 1
        triple = "  ".join(
            f"{name} {number(value, places):>6}"
            for name, value in zip(("judged", "sighted", "implied"), values, strict=True)
        )
        triple += say("  from plumb") if upright else ""
        row = (
            f"  {names[f.sighting]:<{width}}  {f.kind:<9} {triple}  {'measure' if f.measure else MARKS[f.verdict]:<8} "
            f" {f.words}"
        )
        lines.append(row.rstrip())
    called = {form.id: form.name or form.id for form in sheet.forms}
    for form in report.forms:
        lines.append(say("  true proportions of {form}:", form=called.get(form.form, form.form)))
        lines += [f"    {line}" for line in form.words]
    for ladder in report.ladders if ladders else ():
        lines.append(say("  rims of {form}, by height from eye level in units of the near upright:", form=ladder.form))
        for rung in ladder.rungs:
            guide = "" if rung.guide_deg is None else say("  guide {guide_deg}°", guide_deg=rung.guide_deg)
            lines.append(
                say(
                    "    {units:+6.2f}  degree {degree_deg:>5}°  ratio {ratio}{guide}",
                    units=rung.units,
                    degree_deg=number(rung.ellipse.degree_deg),
                    ratio=number(rung.ratio, 3),
                    guide=guide,
                )
            )
    if report.near_corner is not None:
        lines.append(say("  near corner  {words}", words=report.near_corner.words))
    lines += [f"  note: {note}" for note in report.notes]
    return "\n".join(lines)


@main.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--json", "way", flag_value="json", help="Print one JSON drawing a line.")
@click.option("--svg", "way", flag_value="svg", help="Print each drawing as an SVG.")
@click.option("--sheet", "way", flag_value="sheet", help="Print the view as a sighting sheet, one a line.")
@click.option(
    "--steps",
    "thing",
    default=None,
    metavar="THING",
    help="Print the construction of one thing as JSON, step by step, one a line.",
)
@click.option(
    "--step",
    "number",
    default=None,
    type=click.IntRange(1),
    help="With --steps: print the drawing after that step as an SVG instead.",
)
@click.option(
    "--hand-out",
    default=None,
    type=click.Path(path_type=Path),
    help="With --steps: write all steps to this PDF instead.",
)
def stand(
    files: tuple[Path, ...], way: str | None, thing: str | None, number: int | None, hand_out: Path | None
) -> None:
    """Draw the set-ups FILES exactly as they are seen.

    Exits 0 when all were drawn, 2 when any could not be.
    """
    if thing is None and (number is not None or hand_out is not None):
        raise click.UsageError(say("--step and --hand-out go with --steps THING"))
    from aspectum.formats.stand import read_stand
    from aspectum.service.pages.stand_page import stand_svg
    from aspectum.service.stand.from_format import drawn, sheet_of_stand, stand_drawing, stand_steps

    def tell(path: Path) -> str:
        file = read_stand(path.read_bytes())
        if thing is not None:
            return steps_text(stand_steps(file, thing), number, hand_out)
        if way == "json":
            return stand_drawing(file, path.name).model_dump_json()
        if way == "svg":
            return stand_svg(drawn(file), file.title)
        if way == "sheet":
            return sheet_of_stand(file).model_dump_json(exclude_none=True)
        return stand_table(stand_drawing(file, path.name), file.title)

    over_files(files, tell)


def steps_text(found: StandSteps, number: int | None, hand_out: Path | None) -> str:
    """The steps as they were asked for: as JSON, one as an SVG, or where the hand-out was written."""
    from aspectum.service.pages.stand_page import steps_pdf, steps_svg

    if hand_out is not None:
        hand_out.write_bytes(steps_pdf(found))
        return str(hand_out)
    return found.model_dump_json() if number is None else steps_svg(found, number)


def stand_table(found: StandDrawing, title: str) -> str:
    """A drawing for people: eye level, vanishing points, and every edge and rim with how much of it shows."""
    lines = [f"{found.file or 'stand'}  {title}".rstrip()]
    if found.eye_level is None:
        lines.append(say("  eye level    not in the picture"))
    else:
        lines.append(
            say(
                "  eye level    {left_y_px} to {right_y_px} px",
                left_y_px=figure(found.eye_level.left_y_px, 1),
                right_y_px=figure(found.eye_level.right_y_px, 1),
            )
        )
    for vp in found.vanishing_points:
        if vp.x_px is None or vp.y_px is None:
            place = say("tilt {direction_deg}", direction_deg=figure(vp.direction_deg or 0.0, 1))
        else:
            place = say("{x_px}, {y_px} px", x_px=figure(vp.x_px, 1), y_px=figure(vp.y_px, 1))
        lines.append(f"  {vp.thing:<12} {vp.slope or vp.family.value:<9} {place}")
    for edge in found.edges:
        lines.append(f"  {edge.thing:<12} {edge.name:<22} {_tilt(edge.p, edge.q):6.1f}°  {_shows(edge.visible)}")
    for rim in found.rims:
        lines.append(f"  {rim.thing:<12} {rim.name:<22} {rim.degree_deg:6.1f}°  {_shows(rim.visible)}")
    return "\n".join(lines)


def _tilt(p: tuple[float, float], q: tuple[float, float]) -> float:
    from aspectum.core.plane.lines import tilt_deg

    return float(tilt_deg(p, q))


def _shows(visible: list[tuple[float, float]]) -> str:
    share = sum(b - a for a, b in visible)
    return (
        "hidden"
        if share < 1e-6
        else "seen"
        if share > 1 - 1e-6
        else say("{share} % seen", share=figure(100 * share, 0))
    )


@main.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print one JSON plan a line.")
@click.option(
    "--paper",
    default=None,
    help="ISO 216 name (A1 to A6) or WIDTHxHEIGHT in mm, or in inches with 'in' behind: 11x14in; A3 by default.",
)
@click.option("--landscape/--portrait", default=None, help="How the sheet lies; landscape by default.")
@click.option("--margin-mm", default=None, type=click.FloatRange(0, 1000), help="20 by default.")
@click.option(
    "--near-upright-mm",
    default=None,
    type=click.FloatRange(1, 5000),
    help="Length of the near upright; the largest drawing that fits by default.",
)
def plan(
    files: tuple[Path, ...],
    as_json: bool,
    paper: str | None,
    landscape: bool | None,
    margin_mm: float | None,
    near_upright_mm: float | None,
) -> None:
    """Plan the sheet of paper for the sighting sheets FILES: scale, limits, eye level, vanishing points, edge scales,
    tilts and the lay-in.

    What is not asked for is as the sheet keeps it. Exits 0 when all were planned, 2 when any could not be.
    """
    from aspectum.formats.sheet import PaperPlan, read_sheet
    from aspectum.service.paper.plan import plan_sheet

    size = None if paper is None else parse_paper(paper)

    def tell(path: Path) -> str:
        sheet = read_sheet(path.read_bytes())
        kept = sheet.plan or PaperPlan()
        wide, high = size or kept.paper_mm
        # a typed size lies as it is typed
        typed = paper is not None and "x" in paper.lower()
        lies = landscape if landscape is not None else None if typed else kept.paper_mm[0] > kept.paper_mm[1]
        if lies is not None:
            wide, high = (max(wide, high), min(wide, high)) if lies else (min(wide, high), max(wide, high))
        how = PaperPlan(
            paper_mm=(wide, high),
            margin_mm=kept.margin_mm if margin_mm is None else margin_mm,
            near_upright_mm=kept.near_upright_mm if near_upright_mm is None else near_upright_mm,
            place=kept.place,
        )
        found = plan_sheet(sheet, how, path.name)
        return found.model_dump_json() if as_json else plan_table(found)

    over_files(files, tell)


def parse_paper(text: str) -> tuple[float, float]:
    """Width and height in mm of a named or typed size."""
    from aspectum.pictures.papers import INCH_MM, ISO_216

    if text.upper() in ISO_216:
        return ISO_216[text.upper()]
    by = INCH_MM if text.lower().endswith("in") else 1.0
    try:
        values = [float(v) * by for v in text.lower().removesuffix("in").removesuffix("mm").split("x")]
    except ValueError:
        values = []
    if len(values) != 2 or not all(0 < v <= 5000 for v in values):
        raise click.BadParameter(
            say(
                "expected {iso_216}, or WIDTHxHEIGHT in mm or inches, such as 300x400 or 11x14in",
                iso_216=", ".join(ISO_216),
            ),
            param_hint="--paper",
        )
    return values[0], values[1]


def plan_table(found: Plan) -> str:
    """A plan for people."""
    unit = (
        ""
        if found.near_upright_mm is None
        else say(", near upright {near_upright_mm} mm", near_upright_mm=figure(found.near_upright_mm, 1))
    )
    lines = [
        f"{found.file or ''}  {found.title}".strip(),
        say(
            "  paper        {paper_mm:g} × {paper_mm2:g} mm{unit}",
            paper_mm=found.paper_mm[0],
            paper_mm2=found.paper_mm[1],
            unit=unit,
        ),
    ]
    lines += [f"  warning      {w.words}" for w in found.warnings]
    lines += [f"  {step.number:>2}  {step.words}" for step in found.steps]
    lines += [f"  VP           {point.words}" for point in found.vanishing_points]
    for table in found.tilts:
        rows = "  ".join(f"{row.units:+.2f}: {row.tilt_deg:+.1f}°" for row in table.rows)
        lines.append(
            say(
                "  tilts        {form} {family}, by units above eye level: {rows}",
                form=table.form or "",
                family=table.family,
                rows=rows,
            )
        )
    lines += [f"  note: {note}" for note in found.notes]
    return "\n".join(lines)


@main.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="Print one JSON line a skill.")
def logbook(files: tuple[Path, ...], as_json: bool) -> None:
    """Bias and spread, with their 95 % intervals, of every skill in the logbooks FILES (CSV).

    Exits 0 when all were read, 2 when any could not be.
    """
    from aspectum.formats.logbook import read_logbook
    from aspectum.service.practice.logbook_lines import logbook_lines

    def tell(path: Path) -> str:
        lines = logbook_lines(read_logbook(path.read_bytes()))
        return "\n".join(line.model_dump_json() for line in lines) if as_json else logbook_table(lines)

    over_files(files, tell)


def logbook_table(lines: list[LogbookLine]) -> str:
    """A logbook for people."""
    shown = [f"  {'skill':<20} {'n':>5}  {'bias':>8}  {'95 %':<17}  {'spread':>7}  {'95 %':<16}  unit"]
    for one in lines:
        if one.bias is None:
            shown.append(say("  {skill:<20} {n:>5}  too few to say", skill=one.skill.value, n=one.n))
            continue
        bias, spread = f"{one.bias_low:+.2f} to {one.bias_high:+.2f}", f"{one.spread_low:.2f} to {one.spread_high:.2f}"
        shown.append(
            f"  {one.skill.value:<20} {one.n:>5}  {one.bias:>+8.2f}  {bias:<17}  {one.spread:>7.2f}  {spread:<16}  "
            f"{one.unit.value}"
        )
    return "\n".join(shown)


@main.command()
@click.option("--out", type=click.Path(path_type=Path, file_okay=False), default=Path())
@click.option("--demo", is_flag=True, help="The demo too, filled from its sources; half a minute.")
def generate(out: Path, demo: bool) -> None:
    """Write what is generated: OpenAPI and the JSON Schemas from the models, the catalogues' template, and the demo as
    it is shipped.
    """
    import json
    import tempfile

    from aspectum.formats.schemas import write_schemas
    from aspectum.message_template import template
    from aspectum.settings import Settings
    from aspectum.web.app import create_app
    from aspectum.web.openapi import description

    with tempfile.TemporaryDirectory() as folder:
        document = description(create_app(Settings(Path(folder), "sqlite://")))
    (out / "aspectum" / "web").mkdir(parents=True, exist_ok=True)
    (out / "aspectum" / "web" / "openapi.json").write_text(json.dumps(document, indent=1, sort_keys=True) + "\n")
    write_schemas(out / "docs" / "formats")
    (out / "aspectum" / "language").mkdir(parents=True, exist_ok=True)
    (out / "aspectum" / "language" / "messages.pot").write_bytes(template())
    if demo:
        from aspectum.demo.filled import make

        with tempfile.TemporaryDirectory() as folder:
            made = create_app(Settings(Path(folder), f"sqlite:///{folder}/aspectum.sqlite"))
            make(made.extensions["aspectum"], out / "aspectum" / "demo" / "filled")


def say_help(command: click.Command) -> None:
    """Put a command's help into the language of the terminal."""
    if command.help:
        command.help = say(command.help)
    for option in command.params:
        if isinstance(option, click.Option) and option.help:
            option.help = say(option.help)


for each in (main, *main.commands.values()):
    say_help(each)
