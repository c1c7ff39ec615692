"""Who sits at the browser that asks: Flask-Login over the sign-ins that the database keeps."""

from __future__ import annotations

from flask import Flask, current_app, request
from flask import session as cookie
from flask.sessions import SecureCookieSessionInterface
from flask_login import LoginManager, UserMixin, current_user, login_user, logout_user
from sqlalchemy.orm import Session

from aspectum.service.people.people import class_exists, person_alone
from aspectum.service.people.sign_in import LONGEST, signed_in, was_seen
from aspectum.service.runtime.installation import Installation
from aspectum.settings import Settings
from aspectum.store.models import Person


class Visitor(UserMixin):  # type: ignore[misc]  # Flask-Login is untyped
    """A device's sign-in; its id is the token that the cookie holds."""

    def __init__(self, token: str, person: Person) -> None:
        self.id, self.person = token, person


class Cookies(SecureCookieSessionInterface):
    """The cookie is kept to encrypted connections, and to this very host, wherever the connection is encrypted."""

    def get_cookie_secure(self, app: Flask) -> bool:
        return request.is_secure

    def get_cookie_name(self, app: Flask) -> str:
        return "__Host-aspectum" if request.is_secure else "aspectum"


def register(app: Flask, secret: str) -> None:
    """Read and write sign-ins."""
    app.secret_key = secret
    app.session_interface = Cookies()
    app.config.update(
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_REFRESH_EACH_REQUEST=False,
        PERMANENT_SESSION_LIFETIME=LONGEST,
    )
    manager = LoginManager(app)
    manager.session_protection = (
        None  # a telephone's address changes in the middle of a lesson; the token is looked up each time
    )

    @manager.user_loader  # type: ignore[untyped-decorator]
    def load(token: str) -> Visitor | None:
        installation: Installation = app.extensions["aspectum"]
        with installation.sessions() as session:
            row = signed_in(session, token)
        if row is None:
            return None
        was_seen(installation.sessions, row)
        return Visitor(token, row.person)


def enter(token: str, person: Person) -> None:
    """Sign this browser in."""
    cookie.clear()
    login_user(Visitor(token, person))
    cookie.permanent = True


def leave() -> None:
    """Sign this browser out."""
    logout_user()
    cookie.clear()


def token() -> str | None:
    """The token of this browser, where it is signed in."""
    return str(current_user.id) if current_user.is_authenticated else None


def settings() -> Settings:
    """How this server was started."""
    found: Settings = current_app.extensions["aspectum settings"]
    return found


def needs_sign_in(session: Session) -> bool:
    """Whether one must sign in: a person alone on their own machine need not."""
    return not settings().loopback or class_exists(session)


def visiting(session: Session) -> Person | None:
    """Who asks; None for nobody."""
    if not needs_sign_in(session):
        return person_alone(session)
    # as it was read a moment ago, without asking again
    return session.merge(current_user.person, load=False) if current_user.is_authenticated else None
