"""Opening a photo in a process of its own.

Fifty megapixels take hundreds of megabytes while they are opened, which a long-lived process would
hold on to; and what a hostile file can do to a decoder stays in a process that ends.
"""

from __future__ import annotations

import json
import subprocess
import sys
from contextlib import suppress
from typing import BinaryIO

from aspectum.pictures.opening import OpenedPicture, PictureError, open_picture

PATIENCE_S = 120.0
LIMIT_MEMORY_BYTES = 3 * 1024**3
DAMAGED = "The picture is damaged or cut short and cannot be opened."


def open_apart(data: bytes) -> OpenedPicture:
    """As ``open_picture``, in a child process that ends with it."""
    try:
        done = subprocess.run([sys.executable, "-m", "aspectum.pictures.apart"], input=data, capture_output=True, timeout=PATIENCE_S, check=False)
    except subprocess.TimeoutExpired:
        raise PictureError("The picture takes too long to open. Save it again as a plain JPEG and open that.") from None
    if done.returncode or not done.stdout:
        raise PictureError(DAMAGED)
    start = done.stdout.index(b"\n") + 1
    answer = json.loads(done.stdout[:start])
    if "refused" in answer:
        raise PictureError(answer["refused"])
    parts = []
    for size in answer.pop("sizes"):
        parts.append(done.stdout[start : start + size])
        start += size
    return OpenedPicture(**answer, original=parts[0], view=parts[1], thumb=parts[2])


def answer_on(out: BinaryIO, data: bytes) -> None:
    """One line of JSON, then the three JPEGs of ``OpenedPicture``, or the reason for a refusal."""
    try:
        opened = open_picture(data)
    except PictureError as error:
        out.write(json.dumps({"refused": str(error)}).encode() + b"\n")
        return
    parts = (opened.original, opened.view, opened.thumb)
    head = {"width_px": opened.width_px, "height_px": opened.height_px, "focal_35mm": opened.focal_35mm, "sizes": [len(p) for p in parts]}
    out.write(json.dumps(head).encode() + b"\n")
    for part in parts:
        out.write(part)


if __name__ == "__main__":
    with suppress(ImportError, ValueError, OSError):  # not every system limits memory
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (LIMIT_MEMORY_BYTES, LIMIT_MEMORY_BYTES))
    answer_on(sys.stdout.buffer, sys.stdin.buffer.read())
