"""What every command that goes through files has in common: one after the other in the order given, a file that cannot
be read reported and passed over.
"""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterator, Sequence
from functools import partial
from math import inf
from pathlib import Path
from typing import NoReturn

import click

from aspectum.language import say

A_PROCESS = 24  # files that are worth a further process: it takes the time of some dozen sheets to load


def over_files(files: Sequence[Path], tell: Callable[[Path], str], *, side_by_side: bool = False) -> NoReturn:
    """Print what ``tell`` says of each file, and end: with 0 when all were read, 2 when any could not be, which costs
    the others nothing.

    ``side_by_side``: on all processors where there are many; ``tell`` is pickled then.
    """
    failed = False
    for said, well in results(files, tell, side_by_side):
        click.echo(said, err=not well)
        failed = failed or not well
    sys.exit(2 if failed else 0)


def results(files: Sequence[Path], tell: Callable[[Path], str], side_by_side: bool) -> Iterator[tuple[str, bool]]:
    processes = min(os.cpu_count() or 1, len(files) // A_PROCESS)
    if not side_by_side or processes < 2:
        yield from map(partial(of_file, tell), files)
        return
    from concurrent.futures import ProcessPoolExecutor

    from aspectum.core.plane.compiled import foresee

    with ProcessPoolExecutor(processes, initializer=foresee, initargs=(inf,)) as pool:
        yield from pool.map(partial(of_file, tell), files, chunksize=4)


def of_file(tell: Callable[[Path], str], path: Path) -> tuple[str, bool]:
    """What is said of one file, and whether it was read."""
    try:
        return tell(path), True
    except Exception as error:
        return one_line(path, error), False


def one_line(path: Path, error: Exception) -> str:
    """What is wrong with a file, in one line."""
    from aspectum.core.plan.subject import NoPlan
    from aspectum.formats.reading import FormatError
    from aspectum.pictures.opening import PictureError

    if isinstance(error, FormatError | PictureError | NoPlan):
        return f"{path}: {error}"
    if isinstance(error, OSError):
        return f"{path}: {error.strerror or error}"
    return say(
        "{path}: could not be judged ({name}: {split})",
        path=path,
        name=type(error).__name__,
        split=" ".join(str(error).split()),
    )
