"""The door of the API: what each route does, with whose things, asked of ``may`` before anything else happens."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Flask, Response, current_app, g, request

from aspectum.service.belongings import none_such, whose
from aspectum.service.installation import Installation
from aspectum.service.may import Doing, Whose, may
from aspectum.web.problems import problem
from aspectum.web.visitors import visiting


@dataclass(frozen=True)
class Rule:
    """``doing``: what the route does, None where it is open to anybody; ``kind``: of the thing that its path names in ``part``, one's own desk where it
    names none.
    """

    doing: Doing | None
    kind: str = ""
    part: str = ""


OPEN, DESK = Rule(None), Rule(Doing.CHANGE)


def reads(kind: str, part: str) -> Rule:
    return Rule(Doing.READ, kind, part)


def changes(kind: str, part: str) -> Rule:
    return Rule(Doing.CHANGE, kind, part)


LEADS, TAKES_PART = Rule(Doing.LEAD, "class", "class_id"), Rule(Doing.TAKE_PART, "class", "class_id")
IN_CLASS, OF_CLASS = Rule(Doing.TAKE_PART, "assignment", "assignment_id"), Rule(Doing.LEAD, "assignment", "assignment_id")
LEADS_ROOM = Rule(Doing.LEAD, "room_question", "question_id")
READS_SHEET, CHANGES_SHEET = reads("sheet", "sheet_id"), changes("sheet", "sheet_id")
READS_STAND, CHANGES_STAND = reads("stand", "stand_id"), changes("stand", "stand_id")

RULES: dict[str, Rule] = {
    "openapi_api/docs": OPEN,
    "health.health": OPEN,
    # signing in; a link from a sheet is its own proof
    "people.read_me": OPEN,
    "people.sign_in_here": OPEN,
    "people.sign_out": OPEN,
    "people.one_click": OPEN,
    "people.look_at_code": OPEN,
    "people.join": OPEN,
    "phone.read_link": OPEN,
    "phone.send_photo": OPEN,
    # one's own desk
    "people.join_as_myself": DESK,
    "people.rename_me": DESK,
    "people.change_passphrase": DESK,
    "people.take_away_all": DESK,
    "people.delete_me": DESK,
    "classes.make_class": DESK,
    "assignments.list_templates": DESK,
    "hand_ins.list_phrases": DESK,
    "hand_ins.keep_phrases": DESK,
    "sheets.list_sheets": DESK,
    "sheets.make_sheet": DESK,
    "pictures.add_picture": DESK,
    "pictures.picture_turn": DESK,
    "checking.check": DESK,
    "checking.propose": DESK,
    "checking.propose_face": DESK,
    "checking.probe": DESK,
    "checking.fan": DESK,
    "checking.read_sheet_file": DESK,
    "measuring.construct": DESK,
    "measuring.figure": DESK,
    "measuring.guide": DESK,
    "measuring.ease": DESK,
    "easel.gauge": DESK,
    "easel.thumb": DESK,
    "easel.easel": DESK,
    "easel.set_arm": DESK,
    "drawings.find_paper": DESK,
    "drawings.slant": DESK,
    "drawings.bring_in": DESK,
    "drawings.critique": DESK,
    "plans.papers": DESK,
    "plans.plan": DESK,
    "stands.list_stands": DESK,
    "stands.make_stand": DESK,
    "stands.draw_stand": DESK,
    "stands.view_stand": DESK,
    "stands.step_nearer": DESK,
    "stands.solids": DESK,
    "stands.thing_more": DESK,
    "stands.elevations": DESK,
    "stands.turning": DESK,
    "stands.sheet": DESK,
    "stands.construction_steps": DESK,
    "stand_files.read_stand_file": DESK,
    "practice.list_skills": DESK,
    "practice.begin_set": DESK,
    "practice.list_sets": DESK,
    "timed.list_timed": DESK,
    "timed.begin_timed": DESK,
    "worksheets.exercises": DESK,
    "worksheets.preview": DESK,
    "worksheets.list_sets": DESK,
    "worksheets.begin": DESK,
    "worksheets.bring": DESK,
    "logbook.read": DESK,
    "logbook.readings": DESK,
    "logbook.chart": DESK,
    "logbook.import_logbook": DESK,
    "logbook.logbook_csv": DESK,
    "logbook.logbook_page": DESK,
    # a person's things
    "pictures.picture_file": reads("picture", "picture_id"),
    "finding.look": reads("picture", "picture_id"),
    "finding.look_turn": reads("picture", "picture_id"),
    "finding.stop_look": reads("picture", "picture_id"),
    "finding.offer": reads("picture", "picture_id"),
    "finding.pointed_edge": reads("picture", "picture_id"),
    "sheets.read_one_sheet": READS_SHEET,
    "sheets.save_sheet": CHANGES_SHEET,
    "sheets.delete_sheet": CHANGES_SHEET,
    "sheets.restore_sheet": CHANGES_SHEET,
    "sheets.attach_picture": CHANGES_SHEET,
    "sheets.duplicate_sheet": CHANGES_SHEET,
    "exports.export": READS_SHEET,
    "plans.plan_file": READS_SHEET,
    "phone.make_link": CHANGES_SHEET,
    "phone.list_arrived": CHANGES_SHEET,
    "drawings.list_drawings": READS_SHEET,
    "drawings.next_time": READS_SHEET,
    "drawings.read_drawing": READS_SHEET,
    "drawings.write_notes": CHANGES_SHEET,
    "drawings.propose": READS_SHEET,
    "drawings.since": READS_SHEET,
    "drawings.page": READS_SHEET,
    "stands.read_one_stand": READS_STAND,
    "stands.save_stand": CHANGES_STAND,
    "stands.delete_stand": CHANGES_STAND,
    "stands.restore_stand": CHANGES_STAND,
    "stands.duplicate_stand": CHANGES_STAND,
    "stands.draw_from": CHANGES_STAND,
    "stand_files.stand_file": READS_STAND,
    "stand_files.stand_seen": READS_STAND,
    "stand_files.steps_file": READS_STAND,
    "stand_files.turning_file": READS_STAND,
    "practice.next_question": changes("set", "set_id"),
    "practice.set_summary": reads("set", "set_id"),
    "practice.read_question": reads("question", "question_id"),
    "practice.answer_question": changes("question", "question_id"),
    "practice.question_picture": reads("question", "question_id"),
    "timed.read_timed": reads("timed", "timed_id"),
    "timed.keep_timed": changes("timed", "timed_id"),
    "timed.note_timed": changes("timed", "timed_id"),
    "worksheets.make_copy": changes("worksheet_set", "set_id"),
    "worksheets.delete": changes("worksheet_set", "set_id"),
    "worksheets.printed": reads("worksheet_set", "set_id"),
    "worksheets.worksheet_file": reads("worksheet_set", "set_id"),
    # a class
    "classes.read_class": LEADS,
    "classes.change_class": LEADS,
    "classes.change_code": LEADS,
    "classes.rename_member": LEADS,
    "classes.reset_passphrase": LEADS,
    "classes.remove_member": LEADS,
    "classes.bring_back_member": LEADS,
    "classes.delete_member": LEADS,
    "classes.take_away_of": LEADS,
    "board.read_board": LEADS,
    "board.marks_csv": LEADS,
    "board.readings_csv": LEADS,
    "board.evening": LEADS,
    "assignments.list_assignments": TAKES_PART,
    "assignments.read_today": TAKES_PART,
    "assignments.set_assignment": LEADS,
    "assignments.copy_assignments": LEADS,
    "assignments.read_assignment": IN_CLASS,
    "assignments.begin_assignment": IN_CLASS,
    "assignments.hand_in": IN_CLASS,
    "assignments.change_assignment": OF_CLASS,
    "assignments.withdraw_assignment": OF_CLASS,
    "hand_ins.read_piece": reads("hand_in", "hand_in_id"),
    "hand_ins.review_piece": Rule(Doing.LEAD, "hand_in", "hand_in_id"),
    "hand_ins.read_remarks": READS_SHEET,
    "room.read_room": TAKES_PART,
    "room.what_to_ask": LEADS,
    "room.ask_room": LEADS,
    "room.answer_room": Rule(Doing.TAKE_PART, "room_question", "question_id"),
    "room.room_picture": Rule(Doing.TAKE_PART, "room_question", "question_id"),
    "room.read_answers": LEADS_ROOM,
    "room.stop_room": LEADS_ROOM,
    "room.tell_room": LEADS_ROOM,
}


def register(app: Flask) -> None:
    """Ask ``may`` of every request to the API."""

    @app.before_request
    def admit() -> Response | None:
        if request.endpoint is None or not request.path.startswith("/api/"):
            return None
        rule = RULES[request.endpoint]
        installation: Installation = current_app.extensions["aspectum"]
        with installation.sessions() as session:
            who = visiting(session)
            if rule.doing is None:
                return None
            if who is None:
                return problem(401, "Sign in", "Sign in first. What is on this page stays there meanwhile.")
            g.asking = g.desk = who.id
            found = Whose(who.id) if not rule.kind else whose(session, rule.kind, str((request.view_args or {})[rule.part]))
            if found is None:
                return problem(404, "Not found", none_such(rule.kind))
            if may(session, who, rule.doing, found):
                g.desk = found.person_id or who.id
                return None
            if rule.doing is Doing.CHANGE and may(session, who, Doing.READ, found):
                return problem(403, "Refused", "This is somebody else's work: you may look at it, and only they may change it.")
            # a classmate's piece is not even told to be there
            if rule.doing is Doing.LEAD and may(session, who, Doing.READ if found.person_id else Doing.TAKE_PART, found):
                return problem(403, "Refused", "Only the tutor of this class may do this.")
        return problem(404, "Not found", none_such(rule.kind))


def check_complete(app: Flask) -> None:
    """Raise ``LookupError`` where a route of the API has no rule: it must not be served."""
    endpoints = {rule.endpoint for rule in app.url_map.iter_rules() if rule.rule.startswith("/api/")}
    missing = sorted(endpoints - set(RULES))
    if missing:
        raise LookupError(f"no rule says who may ask {', '.join(missing)}")
