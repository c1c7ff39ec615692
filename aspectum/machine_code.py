"""Machine code for the whole core, kept with the installation: compiled once by a process of its own, loaded by a
thread of the server's, the page already up.

``python -m aspectum.machine_code`` compiles what is not compiled as it stands.
"""

from __future__ import annotations

import hashlib
import logging
import subprocess
import sys
import time
from pathlib import Path
from threading import Thread

from filelock import FileLock

from aspectum.core.plane import compiled

HERE = Path(__file__).parent
MARK = HERE / "core" / "__pycache__" / "compiled.mark"  # of which sources the machine code beside them is
DELAY_S = 1.0  # whoever opens the page as soon as it is there is served first
LONGEST_S = 600.0

log = logging.getLogger(__name__)


def sources() -> str:
    """A digest of all sources that hold compiled functions or are called by them: a function that calls a changed one
    is not compiled anew by itself.
    """
    found = hashlib.sha256()
    for path in sorted([*(HERE / "core").rglob("*.py"), *(HERE / "pictures").glob("*.py")]):
        found.update(path.read_bytes())
    return found.hexdigest()


def is_current() -> bool:
    try:
        return MARK.read_text() == sources()
    except OSError:
        return False


def judge_and_draw() -> None:
    """What hands do: the demo's sheets judged, its set-ups drawn."""
    from aspectum.formats.sheet import read_sheet
    from aspectum.formats.stand import read_stand
    from aspectum.service.sheets.checking import check_sheet
    from aspectum.service.stand.from_format import stand_drawing

    for path in sorted((HERE / "demo" / "sheets").glob("*.json")):
        check_sheet(read_sheet(path.read_bytes()))
    for path in sorted((HERE / "demo" / "stands").glob("*.json")):
        stand_drawing(read_stand(path.read_bytes()), path.name)


def look_into_a_photo() -> None:
    from aspectum.service.sheets.finding import find_sheet

    path = HERE / "demo" / "photos" / "crates.jpg"
    find_sheet(path.read_bytes(), path.name)


def compile_all() -> None:
    """Compile everything, unless it is compiled as it stands. Of several processes that begin together, one does it and
    the others wait.
    """
    try:
        MARK.parent.mkdir(exist_ok=True)
        with FileLock(MARK.with_suffix(".lock")):
            if not is_current():
                was = sources()
                for kept in [*HERE.rglob("*.nbi"), *HERE.rglob("*.nbc")]:
                    kept.unlink(missing_ok=True)
                use_all()
                MARK.write_text(was)
    except OSError:  # an installation that nobody may write: numba keeps its code in the user's own folder
        use_all()


def use_all() -> None:
    """Call every compiled function with the kinds of arguments that it is given."""
    with compiled.ahead():
        judge_and_draw()
        look_into_a_photo()


def make_ready(wait_s: float = DELAY_S) -> Thread:
    """Have machine code made, where there is none, and loaded, while everyone is answered meanwhile."""

    def load() -> None:
        time.sleep(wait_s)
        try:
            if not is_current():
                subprocess.run(
                    [sys.executable, "-m", "aspectum.machine_code"],
                    timeout=LONGEST_S,
                    stdout=subprocess.DEVNULL,
                    check=True,
                )
            judge_and_draw()
        except Exception as error:  # it is compiled at the first question then
            log.warning("machine code was not made ready: %s", error)

    thread = Thread(target=compiled.make_ready, args=(load,), daemon=True)
    thread.start()
    return thread


if __name__ == "__main__":
    compile_all()
