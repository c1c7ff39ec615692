"""A class in the school's own network: where the server is found, what it says of itself, and what a wrong
turn shows.
"""

from __future__ import annotations

import gzip
import re
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing
from http.client import HTTPConnection
from pathlib import Path
from threading import Thread, Timer

import pytest
from click.testing import CliRunner
from flask import Flask

from aspectum.cli import main
from aspectum.server_commands import classroom_words
from aspectum.web.app import create_app
from aspectum.web.own_addresses import own_addresses
from aspectum.web.serving import make_server
from tests.conftest import settings_in, stop_server

PAGE = {"Accept": "text/html,application/xhtml+xml"}


@pytest.fixture
def app(tmp_path: Path) -> Flask:
    return create_app(settings_in(tmp_path))


@pytest.fixture
def own_address() -> str:
    found = own_addresses()
    if not found:
        pytest.skip("this machine is in no network")
    return found[0]


@pytest.fixture
def classroom(tmp_path: Path, own_address: str) -> Iterator[tuple[str, int, str]]:
    """A real server as a tutor starts it: its address and port, and what it said up to where it is open."""
    made = CliRunner().invoke(
        main,
        ["tutor", "Maren", "--class", "Harbour class", "--passphrase", "pump house gable", "--data", str(tmp_path)],
    )
    assert made.exit_code == 0
    words = [
        str(Path(sys.executable).parent / "aspectum"),
        "serve",
        "--classroom",
        "--port",
        "0",
        "--processes",
        "0",
        "--data",
        str(tmp_path),
    ]
    with subprocess.Popen(
        words, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, encoding="utf-8"
    ) as server:
        ending = Timer(120, server.kill)
        ending.start()
        assert server.stdout is not None
        said = ""
        for line in server.stdout:
            said += line
            if "Ctrl+C" in line:
                break
        ending.cancel()
        found = re.search(rf"http://{re.escape(own_address)}:(\d+)/", said)
        assert found is not None, said
        yield own_address, int(found[1]), said
        server.terminate()


def asked(address: str, port: int, path: str, headers: dict[str, str]) -> tuple[int, str, str]:
    with closing(HTTPConnection(address, port, timeout=20)) as line:
        line.request("GET", path, headers=headers)
        answer = line.getresponse()
        return answer.status, answer.headers["Content-Type"], answer.read().decode()


def test_it_answers_at_its_own_address_and_says_where_and_what_goes_in_the_clear(
    classroom: tuple[str, int, str],
) -> None:
    address, port, said = classroom
    assert "▀" in said and "not encrypted" in said and "0.0.0.0" not in said and "no class here yet" not in said
    status, kind, _ = asked(address, port, "/", PAGE)
    assert status == 200 and kind.startswith("text/html")
    assert asked(address, port, "/api/me", {})[0] == 200
    # a page of somebody else's name that was made to lead here is refused, in words that a person can read
    status, kind, page = asked(address, port, "/", PAGE | {"Host": "rebound.test"})
    assert (
        status == 421
        and kind.startswith("text/html")
        and "scan the code on the projector" in page
        and "rebound.test" in page
    )


def test_a_tutor_without_a_class_is_told_to_make_one_first() -> None:
    said = classroom_words(["http://10.0.0.7:8340/", "http://192.168.4.2:8340/"], begun=False)
    assert 'aspectum tutor "Your name"' in said and "or  http://192.168.4.2:8340/" in said


@pytest.mark.parametrize("further", [("--host", "0.0.0.0"), ("--proxy", "127.0.0.1"), ("--demo",)])
def test_a_classroom_takes_nothing_that_contradicts_it(tmp_path: Path, further: tuple[str, ...]) -> None:
    result = CliRunner().invoke(main, ["serve", "--classroom", *further, "--data", str(tmp_path)])
    assert result.exit_code == 1 and not list(tmp_path.iterdir())


def test_own_addresses_are_those_of_a_network(own_address: str) -> None:
    assert all(not address.startswith(("127.", "169.254.")) for address in own_addresses())
    with socket.socket() as there:
        there.bind((own_address, 0))  # it is this machine's


@pytest.mark.parametrize(("path", "status"), [("/api/sheets/none/export/report.json", 404), ("/api/nowhere", 404)])
def test_what_a_browser_opens_and_cannot_have_is_told_on_a_page(app: Flask, path: str, status: int) -> None:
    page = app.test_client().get(path, headers=PAGE)
    assert page.status_code == status and page.mimetype == "text/html" and b"To the first page" in page.data
    assert "style-src 'sha256-" in page.headers["Content-Security-Policy"]
    assert app.test_client().get(path).mimetype == "application/problem+json"


def test_a_page_of_refusal_shows_what_was_asked_as_text(app: Flask) -> None:
    page = app.test_client().get("/", headers=PAGE | {"Host": "<b>x"})
    assert page.status_code in (400, 421) and b"<b>x" not in page.data


def test_what_is_told_is_compressed_where_that_is_offered(app: Flask) -> None:
    description = app.test_client().get("/api/docs/openapi.json", headers={"Accept-Encoding": "gzip"})
    assert description.headers["Content-Encoding"] == "gzip" and "Accept-Encoding" in description.headers["Vary"]
    plain = app.test_client().get("/api/docs/openapi.json")
    assert gzip.decompress(description.data) == plain.data and len(description.data) < 0.3 * len(plain.data)


def test_what_the_server_itself_refuses_is_a_page_too(app: Flask) -> None:
    server = make_server(app, "127.0.0.1", 0)
    running = Thread(target=server.run, daemon=True)
    running.start()
    with socket.create_connection(("127.0.0.1", server.effective_port)) as line:
        line.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nAccept: text/html\r\nContent-Length: -5\r\n\r\n")
        assert b"text/html" in line.recv(4000)
    stop_server(server, running)
