"""Compiling the innermost loops, which run thousands of times while a needle moves."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

from numba import njit

F = TypeVar("F", bound=Callable[..., Any])


def compiled(function: F) -> F:
    """``function`` in machine code, kept on the disk between runs.

    Arithmetic is numpy's: a division by zero is infinite or no number, never an error. What is
    compiled may hold only loops over numbers and arrays; callers hand it contiguous arrays, as a
    different layout would be compiled anew.
    """
    return cast(F, njit(cache=True, error_model="numpy", nogil=True)(function))
