"""The door of the API: what each route does, with whose things, asked of ``may`` before anything else happens."""

from __future__ import annotations

from flask import Flask, Response, current_app, g, request

from aspectum.language import say
from aspectum.service.people.belongings import none_such, whose
from aspectum.service.people.may import Action, Owner, may
from aspectum.service.runtime.installation import Installation
from aspectum.web.problems import problem
from aspectum.web.routes import ROUTES, this_route
from aspectum.web.visitors import visiting


def register(app: Flask) -> None:
    """Ask ``may`` of every request to the API."""

    @app.before_request
    def admit() -> Response | None:
        if request.endpoint is None or not request.path.startswith("/api/"):
            return None
        rule = this_route().who
        installation: Installation = current_app.extensions["aspectum"]
        with installation.sessions() as session:
            who = visiting(session)
            if rule.action is None:
                return None
            if who is None:
                return problem(401, say("Sign in"), say("Sign in first. What is on this page stays there meanwhile."))
            g.asking = g.owner = who.id
            found = (
                Owner(who.id) if not rule.kind else whose(session, rule.kind, str((request.view_args or {})[rule.part]))
            )
            if found is None:
                return problem(404, say("Not found"), none_such(rule.kind))
            if may(session, who, rule.action, found):
                g.owner = found.person_id or who.id
                return None
            if rule.action is Action.CHANGE and may(session, who, Action.READ, found):
                return problem(
                    403,
                    say("Refused"),
                    say("This is somebody else's work: you may look at it, and only they may change it."),
                )
            # a classmate's piece is not even told to be there
            if rule.action is Action.LEAD and may(
                session, who, Action.READ if found.person_id else Action.TAKE_PART, found
            ):
                return problem(403, say("Refused"), say("Only the tutor of this class may do this."))
        return problem(404, say("Not found"), none_such(rule.kind))


def check_complete(app: Flask) -> None:
    """Raise ``LookupError`` where a route of the API is not declared: it must not be served."""
    endpoints = {rule.endpoint for rule in app.url_map.iter_rules() if rule.rule.startswith("/api/")}
    missing = sorted(endpoints - set(ROUTES))
    if missing:
        raise LookupError(f"not declared as a route: {', '.join(missing)}")
