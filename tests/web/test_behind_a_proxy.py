"""Sign-in over real sockets: behind a TLS proxy, in the clear, and by many at once."""

from __future__ import annotations

import json
import urllib.request
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from http.cookiejar import CookieJar
from pathlib import Path

import pytest

from tests.conftest import Served, copied
from tests.school import NAMES, PASSPHRASE, STUDENT, TUTOR, School, reopened
from tests.wire import ask

NAME = {"name": NAMES[STUDENT], "passphrase": PASSPHRASE}
FORWARDED = {"X-Forwarded-For": "192.0.2.7", "X-Forwarded-Proto": "https", "X-Forwarded-Host": "drawing.example.org"}


@pytest.fixture
def behind(tmp_path: Path, first_school: School) -> Iterator[Served]:
    """A server that believes what the proxy on this machine says."""
    copied(first_school, tmp_path)
    address, hosts = "https://drawing.example.org", ("127.0.0.1", "localhost", "drawing.example.org")
    server = Served(tmp_path, "127.0.0.1", loopback=False, address=address, hosts=hosts)
    yield server
    server.stop()


def sign_in(server: Served, **headers: str) -> tuple[int, str]:
    status, found, _ = ask(server, "POST", "/api/sign-in", json.dumps(NAME).encode(), **headers)
    return status, found["Set-Cookie"] or ""


def test_behind_tls_the_cookie_is_kept_to_encrypted_connections_and_this_very_host(behind: Served) -> None:
    status, cookie = sign_in(behind, **FORWARDED)
    assert status == 200 and cookie.startswith("__Host-aspectum=")
    assert all(part in cookie for part in ("Secure", "HttpOnly", "SameSite=Lax", "Path=/")) and "Domain" not in cookie
    held = cookie.split(";")[0]
    assert ask(behind, "GET", "/api/sheets", None, Cookie=held, **FORWARDED)[0] == 200
    # the same cookie over an unencrypted connection is none
    assert ask(behind, "GET", "/api/sheets", None, Cookie=held)[0] == 401


def test_links_and_codes_name_the_address_that_people_use(behind: Served) -> None:
    _, cookie = sign_in(behind, **FORWARDED)
    held = cookie.split(";")[0]
    _, _, made = ask(behind, "POST", "/api/sheets", b"{}", Cookie=held, **FORWARDED)
    _, _, link = ask(behind, "POST", f"/api/sheets/{json.loads(made)['id']}/phone", None, Cookie=held, **FORWARDED)
    told = json.loads(link)
    assert told["link"].startswith("https://drawing.example.org/phone/") and told["reachable"]


def test_tries_are_counted_for_the_address_behind_the_proxy(behind: Served) -> None:
    wrong = json.dumps({"name": "nobody", "passphrase": "x"}).encode()
    first = [ask(behind, "POST", "/api/sign-in", wrong, **FORWARDED)[0] for _ in range(6)]
    assert first == [403] * 5 + [429]
    other = FORWARDED | {"X-Forwarded-For": "192.0.2.8"}
    assert ask(behind, "POST", "/api/sign-in", json.dumps(NAME).encode(), **other)[0] == 200


def test_a_server_without_a_proxy_believes_no_such_headers(crowd: tuple[Served, School]) -> None:
    """Else anybody could count as another address, or pass for an encrypted connection."""
    status, cookie = sign_in(crowd[0], **FORWARDED)
    assert status == 200 and cookie.startswith("aspectum=") and "Secure" not in cookie


def test_another_site_signs_nobody_in_or_out(behind: Served) -> None:
    """A page elsewhere could else sign a pupil in as somebody it knows, to read what they draw."""
    for path in ("/api/sign-in", "/api/sign-out", "/api/join"):
        for headers in ({"Origin": "https://elsewhere.example"}, {"Sec-Fetch-Site": "cross-site"}):
            status, found, _ = ask(behind, "POST", path, json.dumps(NAME).encode(), **FORWARDED, **headers)
            assert status == 403 and found["Set-Cookie"] is None, (path, headers)


@pytest.fixture
def crowd(tmp_path: Path, first_school: School) -> Iterator[tuple[Served, School]]:
    copied(first_school, tmp_path)
    server = Served(tmp_path)
    yield server, reopened(first_school, server.app)
    server.stop()


def test_a_whole_class_joins_in_the_same_minute(crowd: tuple[Served, School]) -> None:
    served, school = crowd

    def join(n: int) -> int:
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        body = json.dumps(
            {"code": school.code, "name": f"Student {n}", "passphrase": f"lantern rope {n} tern"}
        ).encode()
        opener.open(
            urllib.request.Request(f"{served.url}/api/join", body, {"Content-Type": "application/json"}), timeout=60
        ).close()
        with opener.open(f"{served.url}/api/sheets", timeout=60) as answer:
            return int(answer.status)

    with ThreadPoolExecutor(10) as pool:
        assert set(pool.map(join, range(30))) == {200}
    members = school.ask(TUTOR, "GET", f"/api/classes/{school.class_id}")["members"]
    assert len(members) == 33 and len({m["name"] for m in members}) == 33


def test_sign_ins_outlive_the_server(crowd: tuple[Served, School]) -> None:
    """A killed server comes back with the same secret and the same sign-ins: nobody loses what is on their page."""
    served, _ = crowd
    _, headers, _ = ask(served, "POST", "/api/sign-in", json.dumps(NAME).encode())
    held = headers["Set-Cookie"].split(";")[0]
    served.stop()
    served.start()
    assert ask(served, "GET", "/api/sheets", None, Cookie=held)[0] == 200


def test_a_hostile_cookie_is_nobodys(crowd: tuple[Served, School]) -> None:
    served, _ = crowd
    for value in (
        "x" * 4000,
        "a.b.c",
        "eyJfdXNlcl9pZCI6IjEifQ.AAAAAA.AAAA",
        "%00",
        "null",
        "'; drop table sign_ins; --",
    ):
        assert ask(served, "GET", "/api/sheets", None, Cookie=f"aspectum={value}")[0] == 401, value
