"""Work on pictures in a process of its own.

Fifty megapixels take hundreds of megabytes while they are opened, which a long-lived process would
hold on to; and what a hostile file can do to a decoder stays in a process that ends.

A task is one line of JSON and the picture's bytes; its answer one line of JSON and the pictures that it made.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from threading import Thread
from typing import Any, BinaryIO

import numpy as np

from aspectum.language import Text, speak, spoken
from aspectum.pictures.corner_marks import FoundMarks
from aspectum.pictures.opening import OpenedPicture, PictureError, open_picture

# a stuck decoder is waited for no longer; a question given up is ended this soon
PATIENCE_S, ASKED_EVERY_S = 120.0, 0.1
NICER = 5  # looking into a photo is waited for by nobody
NICEST = 7  # a photo takes seconds of a processor: the hands that move go before it, and yet it comes to its end
# several times what the largest picture takes; what asks for more is stopped before the machine swaps
LIMIT_MEMORY_BYTES = 3 * 1024**3
DAMAGED = Text("The picture is damaged or cut short and cannot be opened.")
SLOW = Text("The picture takes too long to open. Save it again as a plain JPEG and open that.")


def open_isolated(data: bytes) -> OpenedPicture:
    """As ``open_picture``, in a child process that ends with it."""
    answer, parts = ask({"task": "open"}, data)
    return OpenedPicture(**answer, original=parts[0], view=parts[1], thumb=parts[2])


def find_paper_isolated(data: bytes) -> dict[str, Any] | None:
    """Corners of a sheet of paper in a JPEG: ``corners``, ``support`` and ``sure`` as ``paper.FoundPaper``, or None."""
    answer, _ = ask({"task": "find"}, data)
    return answer["found"]  # type: ignore[no-any-return]


def flatten_isolated(
    data: bytes, corners: list[list[float]] | None, paper_mm: tuple[float, float] | None, box: list[int] | None
) -> OpenedPicture:
    """A JPEG's sheet flattened, or without ``corners`` the part in ``box`` (left, top, right, bottom; px) cut out,
    evenly lit.
    """
    answer, parts = ask({"task": "flatten", "corners": corners, "paper_mm": paper_mm, "box": box}, data)
    return OpenedPicture(**answer, original=parts[0], view=parts[1], thumb=parts[2])


def find_marks_isolated(data: bytes) -> FoundMarks | None:
    """The corner marks of a worksheet in a JPEG, as ``corner_marks.find_marks``."""
    answer, _ = ask({"task": "marks"}, data)
    found = answer["found"]
    return None if found is None else FoundMarks(found["code"], found["places"], np.array(found["corners"]))


def snap_isolated(
    data: bytes,
    px_per_mm: float,
    lines: dict[str, Any],
    rims: dict[str, Any],
    erase: Sequence[Sequence[Sequence[float]]] = (),
    erase_px: float = 0.0,
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Expected ``lines`` (p and q by id) and ``rims`` (centre, half axes, direction) brought to the pencil lines of a
    flattened sheet (JPEG). ``erase``: lines through points (px) that are printed on it, and are taken out ``erase_px``
    wide.
    """
    answer, _ = ask(
        {"task": "snap", "px_per_mm": px_per_mm, "lines": lines, "rims": rims, "erase": erase, "erase_px": erase_px},
        data,
    )
    return answer["lines"], answer["rims"]


def follow_isolated(
    data: bytes, px_per_mm: float, lines: dict[str, Any], rims: dict[str, Any], unplaced: bool
) -> tuple[dict[str, Any], dict[str, Any]] | None:
    """As ``snap_isolated``, with all lines that restate one another, each a list, the darkest first. ``unplaced``: the
    lines lie in their subject's own pixels, and are brought to the drawing first; None where it is not a drawing of
    them.
    """
    answer, _ = ask(
        {"task": "follow", "px_per_mm": px_per_mm, "lines": lines, "rims": rims, "unplaced": unplaced}, data
    )
    return None if answer["lines"] is None else (answer["lines"], answer["rims"])


def follow_again_isolated(
    data: bytes,
    px_per_mm: float,
    lines: dict[str, Any],
    rims: dict[str, Any],
    of_subject: tuple[dict[str, Any], dict[str, Any]],
) -> dict[str, Any]:
    """As ``again.follow_again``: ``lines`` and ``rims`` as plain data by id, and the ids that are ``sure``."""
    answer, _ = ask(
        {"task": "again", "px_per_mm": px_per_mm, "lines": lines, "rims": rims, "of_subject": of_subject}, data
    )
    return answer


def seek_isolated(
    data: bytes, focal_35mm: float | None, px_per_mm: float | None, stopped: Callable[[], bool]
) -> dict[str, Any] | None:
    """What is found in a JPEG, a photo or with ``px_per_mm`` a flattened drawing: a ``finding.FoundInPicture`` as plain
    data; None where it was ``stopped``.
    """
    try:
        answer, _ = ask({"task": "seek", "focal_35mm": focal_35mm, "px_per_mm": px_per_mm}, data, stopped)
    except GivenUp:
        return None
    return answer["found"]  # type: ignore[no-any-return]


class GivenUp(Exception):
    """It was stopped before it came to its end."""


def ask(
    task: dict[str, Any], data: bytes, stopped: Callable[[], bool] | None = None
) -> tuple[dict[str, Any], list[bytes]]:
    """Have a child process do it. Raises ``PictureError`` with what it says, or where it fails, and ``GivenUp`` where
    it is stopped.
    """
    head = json.dumps(task | {"language": spoken()}).encode() + b"\n"
    command = [sys.executable, "-m", "aspectum.pictures.isolated"]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL) as child:
        if stopped is not None:
            Thread(target=watch, args=(child, stopped), daemon=True).start()
        try:
            out, _ = child.communicate(head + data, timeout=PATIENCE_S)
        except subprocess.TimeoutExpired:
            child.kill()
            raise PictureError(str(SLOW)) from None
        except BaseException:
            child.kill()
            raise
    if stopped is not None and stopped():
        raise GivenUp
    if child.returncode or not out:
        raise PictureError(str(DAMAGED))
    start = out.index(b"\n") + 1
    answer = json.loads(out[:start])
    if "refused" in answer:
        raise PictureError(answer["refused"])
    parts = []
    for size in answer.pop("sizes", []):
        parts.append(out[start : start + size])
        start += size
    return answer, parts


def watch(child: subprocess.Popen[bytes], stopped: Callable[[], bool]) -> None:
    """End a child process once it is stopped."""
    while child.poll() is None:
        if stopped():
            child.kill()
            return
        time.sleep(ASKED_EVERY_S)


def answer_on(out: BinaryIO, data: bytes) -> None:
    """Do what the first line of ``data`` asks; one line of JSON, then the pictures, or the reason for a refusal."""
    start = data.index(b"\n") + 1
    task, picture = json.loads(data[:start]), data[start:]
    speak(task.pop("language"))
    try:
        answer, parts = TASKS[task.pop("task")](picture, **task)
    except ValueError as error:  # a PictureError among them
        answer, parts = {"refused": str(error)}, []
    out.write(json.dumps(answer | {"sizes": [len(p) for p in parts]}).encode() + b"\n")
    for part in parts:
        out.write(part)


def opened(data: bytes) -> tuple[dict[str, Any], list[bytes]]:
    return packed(open_picture(data))


def packed(found: OpenedPicture) -> tuple[dict[str, Any], list[bytes]]:
    head = {"width_px": found.width_px, "height_px": found.height_px, "focal_35mm": found.focal_35mm}
    return head, [found.original, found.view, found.thumb]


def found_paper(data: bytes) -> tuple[dict[str, Any], list[bytes]]:
    from aspectum.pictures.paper import find_paper

    found = find_paper(pixels_of(data))
    return {
        "found": None
        if found is None
        else {"corners": found.corners.tolist(), "support": found.support, "sure": found.sure}
    }, []


def flattened(
    data: bytes, corners: list[list[float]] | None, paper_mm: list[float] | None, box: list[int] | None
) -> tuple[dict[str, Any], list[bytes]]:
    import numpy as np

    from aspectum.pictures.opening import develop
    from aspectum.pictures.paper import crop, flatten

    picture = pixels_of(data)
    if corners is not None and paper_mm is not None:
        flat = flatten(picture, np.array(corners), (paper_mm[0], paper_mm[1])).pixels
    else:
        high, wide = picture.shape[:2]
        left, top, right, bottom = box or [0, 0, wide, high]
        flat = crop(picture, (max(left, 0), max(top, 0), min(right, wide), min(bottom, high)))
    return packed(develop(flat))


def found_marks(data: bytes) -> tuple[dict[str, Any], list[bytes]]:
    from aspectum.pictures.corner_marks import find_marks

    found = find_marks(pixels_of(data))
    return {
        "found": None
        if found is None
        else {"code": found.code, "places": found.places, "corners": found.corners.tolist()}
    }, []


def snapped(
    data: bytes,
    px_per_mm: float,
    lines: dict[str, Any],
    rims: dict[str, Any],
    erase: list[list[list[float]]],
    erase_px: float,
) -> tuple[dict[str, Any], list[bytes]]:
    from dataclasses import asdict

    from aspectum.pictures.pencil import PencilSheet, covered

    picture = pixels_of(data)
    sheet = PencilSheet(picture, px_per_mm, covered(picture.shape, erase, erase_px))
    told = {id: None if (s := sheet.snap(*line)) is None else asdict(s) for id, line in lines.items()}
    told_rims = {id: None if (r := sheet.snap_rim(*rim)) is None else asdict(r) for id, rim in rims.items()}
    return {"lines": told, "rims": told_rims}, []


def followed(
    data: bytes, px_per_mm: float, lines: dict[str, Any], rims: dict[str, Any], unplaced: bool
) -> tuple[dict[str, Any], list[bytes]]:
    from dataclasses import asdict

    from aspectum.pictures.pencil import PencilSheet
    from aspectum.pictures.registering import placed

    sheet = PencilSheet(pixels_of(data), px_per_mm)
    there = placed(sheet, lines, rims) if unplaced else (lines, rims)
    if there is None:
        return {"lines": None}, []
    told = {id: [asdict(one) for one in sheet.follow(*line)] for id, line in there[0].items()}
    told_rims = {id: None if (r := sheet.snap_rim(*rim)) is None else asdict(r) for id, rim in there[1].items()}
    return {"lines": told, "rims": told_rims}, []


def followed_again(
    data: bytes, px_per_mm: float, lines: dict[str, Any], rims: dict[str, Any], of_subject: list[dict[str, Any]]
) -> tuple[dict[str, Any], list[bytes]]:
    from dataclasses import asdict

    from aspectum.pictures.again import follow_again
    from aspectum.pictures.pencil import PencilSheet

    found = follow_again(PencilSheet(pixels_of(data), px_per_mm), lines, rims, *of_subject)
    told = {id: asdict(one) for id, one in found.lines.items()}
    return {"lines": told, "rims": {id: asdict(one) for id, one in found.rims.items()}, "sure": sorted(found.sure)}, []


def sought(data: bytes, focal_35mm: float | None, px_per_mm: float | None) -> tuple[dict[str, Any], list[bytes]]:
    from dataclasses import asdict

    with suppress(AttributeError, OSError):
        os.nice(NICER)
    if px_per_mm is None:
        from aspectum.pictures.finding import find_in

        found = find_in(pixels_of(data), focal_35mm)
    else:
        from aspectum.pictures.drawn_forms import find_drawn

        found = find_drawn(pixels_of(data), px_per_mm)
    return {"found": asdict(found)}, []


def pixels_of(data: bytes) -> Any:
    """RGB pixels of a JPEG that this installation stored itself."""
    import io

    import numpy as np
    from PIL import Image

    with Image.open(io.BytesIO(data), formats=("JPEG",)) as image:
        return np.asarray(image.convert("RGB"))


TASKS: dict[str, Callable[..., tuple[dict[str, Any], list[bytes]]]] = {
    "open": opened,
    "find": found_paper,
    "flatten": flattened,
    "snap": snapped,
    "marks": found_marks,
    "seek": sought,
    "follow": followed,
    "again": followed_again,
}


if __name__ == "__main__":
    with suppress(AttributeError, OSError):  # not every system knows it
        os.nice(NICEST)
    with suppress(ImportError, ValueError, OSError):  # not every system limits memory
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (LIMIT_MEMORY_BYTES, LIMIT_MEMORY_BYTES))
    answer_on(sys.stdout.buffer, sys.stdin.buffer.read())
