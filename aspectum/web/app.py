"""The application factory."""

from __future__ import annotations

from pathlib import Path

from flask import Flask, Response, send_from_directory
from flask_compress import Compress
from werkzeug.exceptions import NotFound
from werkzeug.routing import PathConverter

from aspectum.language import say
from aspectum.service.people.people import settle_in
from aspectum.service.people.sign_in import forget_ended
from aspectum.service.runtime.computing import Computing
from aspectum.service.runtime.installation import install
from aspectum.service.runtime.processes import Processes
from aspectum.service.sheets import pictures
from aspectum.settings import Settings
from aspectum.store.database import migrate, open_engine, session_factory
from aspectum.store.picture_files import PictureFiles
from aspectum.store.privacy import make_private
from aspectum.store.secret import kept_secret
from aspectum.web import access, bodies, languages, log, problems, security, visitors
from aspectum.web.api import BLUEPRINTS
from aspectum.web.problems import MEDIA_TYPE, problem

FRONT_END = Path(__file__).parent / "app"


# photos and printed sheets are compressed as they are
COMPRESSED = [
    "text/html",
    "text/css",
    "text/javascript",
    "application/javascript",
    "application/json",
    MEDIA_TYPE,
    "image/svg+xml",
    "text/csv",
    "text/plain",
]


class PagePath(PathConverter):
    """The interface's own addresses: everything but the API's, so that those answer 404 and 405 truly."""

    regex = "(?!api(?:/|$)).+"


def create_app(settings: Settings) -> Flask:
    """The web application on an up-to-date database, in a data folder closed to other accounts.

    Raises ``OSError`` or ``DBAPIError`` where the folder cannot be written.
    """
    make_private(settings.data, settings.picture_folder, settings.database_file)
    engine = open_engine(settings.database_url)
    migrate(engine)
    sessions, files = session_factory(engine), PictureFiles(settings.picture_folder)
    settle_in(sessions)
    with sessions.begin() as session:
        forget_ended(session)
    pictures.sweep(sessions, files)
    app = Flask(__name__, static_folder=None)
    app.url_map.converters["page"] = PagePath
    app.json.sort_keys = False  # type: ignore[attr-defined]
    app.config["COMPRESS_MIMETYPES"] = COMPRESSED
    secret = settings.secret or kept_secret(settings.data)
    computing = (
        Computing(Processes(settings.processes, "aspectum.computing_process")) if settings.processes else Computing()
    )
    installation = install(sessions, files, secret, computing)
    installation.tries.sweep()
    installation.presence.sweep()
    app.extensions["aspectum"] = installation
    app.extensions["aspectum settings"] = settings
    Compress(app)
    languages.register(app)
    log.register(app)
    problems.register(app)
    security.register(app, settings.hosts)
    visitors.register(app, secret)
    access.register(app)
    bodies.register(app)
    for blueprint in BLUEPRINTS:
        app.register_blueprint(blueprint)
    access.check_complete(app)

    @app.get("/assets/<path:name>")
    def assets(name: str) -> Response:
        response = send_from_directory(FRONT_END / "assets", name)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response

    @app.get("/", defaults={"path": ""})
    @app.get("/<page:path>")
    def page(path: str) -> Response:
        try:
            return send_from_directory(FRONT_END, "index.html")
        except NotFound:
            return problem(503, say("Not built"), say("The interface is not built yet: run make setup."))

    return app
