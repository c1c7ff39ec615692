"""The sheet of paper before the first line: its plan, and the plan to print."""

from __future__ import annotations

from collections.abc import Callable

from flask import Response, request

from aspectum.formats.plan import Plan
from aspectum.formats.sheet import SightingSheet
from aspectum.language import say
from aspectum.pictures.papers import ISO_216
from aspectum.service.pages.plan_page import plan_pdf, plan_svg
from aspectum.service.paper.plan import plan_sheet
from aspectum.service.sheets import sheets
from aspectum.web.api.base import Mark, Message, computed, feature, work
from aspectum.web.api.exports import file_names
from aspectum.web.problems import problem
from aspectum.web.routes import OWN_WORK, READS_SHEET, Queue, file_by_kind

routes = feature("plans")


class PaperSize(Message):
    """An ISO 216 size, upright."""

    name: str
    wide_mm: float
    high_mm: float


class Papers(Message):
    sizes: list[PaperSize]


def paper_sizes() -> list[PaperSize]:
    return [PaperSize(name=name, wide_mm=wide, high_mm=high) for name, (wide, high) in ISO_216.items()]


@routes.get("/papers", OWN_WORK, "listPapers", Papers)
def papers() -> Papers:
    """The sizes of paper that have a name."""
    return Papers(sizes=paper_sizes())


class PlanRequest(Message):
    """``page``: as a check's."""

    document: SightingSheet
    page: Mark | None = None


@routes.post("/plan", OWN_WORK, "plan", Plan, queue=Queue.HAND, stores=False)
def plan(json: PlanRequest) -> Plan:
    """Plan the paper of a sheet as it stands, by the paper that is kept with it."""
    return computed(plan_sheet, json.document)


Writer = Callable[[Plan, str | None, bool], bytes]
PLANS: dict[str, tuple[str, Writer]] = {
    "pdf": ("application/pdf", plan_pdf),
    "svg": ("image/svg+xml", lambda plan, _, fans: plan_svg(plan, fans)),
    "json": ("application/json", lambda plan, _, __: (plan.model_dump_json(indent=1) + "\n").encode()),
}


@routes.get(
    "/sheets/<sheet_id>/plan.<kind>", READS_SHEET, "planFile", file_by_kind(PLANS, "printer", "fans"), queue=Queue.FILE
)
def plan_file(sheet_id: str, kind: str) -> Response:
    """The plan true to size, to print (PDF), as SVG, or as it is (JSON). 'printer': the paper in the printer; 'fans': 1
    for the fans as well.
    """
    if kind not in PLANS:
        return problem(404, say("Not found"), say("A plan is written as pdf, svg or json."))
    printer = request.args.get("printer") or None
    if printer is not None and printer not in ISO_216:
        return problem(
            422, say("No such paper"), say("The printer's paper is one of {iso_216}.", iso_216=", ".join(ISO_216))
        )
    with work() as (session, person):
        sheet = sheets.sheet_of(session, person, sheet_id)
        document, title = sheets.document_of(sheet), sheet.title
    response = Response(
        computed(written_plan, document, kind, printer, request.args.get("fans") == "1"), mimetype=PLANS[kind][0]
    )
    response.headers.set("Content-Disposition", "attachment", **file_names(title, f"plan.{kind}"))
    return response


def written_plan(document: SightingSheet, kind: str, printer: str | None, fans: bool) -> bytes:
    return PLANS[kind][1](plan_sheet(document), printer, fans)
