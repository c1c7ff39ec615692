"""Each answer in the language that its browser asks for."""

from __future__ import annotations

from flask import Flask, Response, request
from werkzeug.datastructures import LanguageAccept
from werkzeug.http import parse_accept_header

from aspectum.language import best, speak, spoken


def register(app: Flask) -> None:
    """Before all else, so that refusals are told in it too."""

    @app.before_request
    def listen() -> None:
        speak(best(request.accept_languages.values()))

    @app.after_request
    def tell(response: Response) -> Response:
        if request.path.startswith("/api/"):
            response.headers["Content-Language"] = spoken()
            response.vary.add("Accept-Language")
        return response


def speak_to(accepted: str) -> None:
    """Say what follows in the language that an ``Accept-Language`` header asks for."""
    speak(best(parse_accept_header(accepted, LanguageAccept).values()))
