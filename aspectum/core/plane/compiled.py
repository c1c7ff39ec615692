"""Innermost loops, which run thousands of times while a needle moves: Python at first, machine code once it is worth
its loading.

numba and what it kept on the disk take a second to load, and a sheet of edges is judged in a third of that by Python
itself. So a process begins interpreted, and turns to machine code when it has spent ``BUDGET_S`` so (a program that
goes through many sheets), or when a thread beside it has made it ready (``make_ready``: a server, which answers
meanwhile). Both give the same figures, but for rounding.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from contextlib import contextmanager
from functools import update_wrapper
from types import FunctionType
from typing import TYPE_CHECKING, Any, TypeVar, cast, overload

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Iterator

F = TypeVar("F", bound=Callable[..., Any])

# about what loading takes: whoever waits that long before paying it never takes twice as long as whoever knew (the ski
# rental problem)
BUDGET_S = 1.0


class State(threading.local):
    """What a thread is at: ``inside`` a function that Python runs to its end; ``ahead``: it computes in machine code
    before others do.
    """

    inside = False
    ahead = False


class Stage:
    """What this process is at, and the seconds that it has computed interpreted."""

    machine = False
    beside = False  # a thread makes it ready; nobody else waits for that
    spent_s = 0.0


here = State()
stage = Stage()


class Compiled:
    """A function in both forms."""

    def __init__(self, function: FunctionType, always: bool) -> None:
        self.python = function
        self.always = always
        self._machine: Callable[..., Any] | None = None
        update_wrapper(self, function)

    @property
    def machine(self) -> Callable[..., Any]:
        """In machine code, kept on the disk between runs. It is compiled for the kinds of its arguments when it is
        first called with them.
        """
        if self._machine is None:
            from numba import njit

            own = self.python
            # the same code over globals in which every other such function is machine code too
            twin = FunctionType(own.__code__, linked(own.__globals__), own.__name__, own.__defaults__, own.__closure__)
            twin.__qualname__, twin.__module__ = own.__qualname__, own.__module__
            self._machine = njit(cache=True, error_model="numpy", nogil=True)(twin)
        return self._machine

    def __call__(self, *args: Any) -> Any:
        if here.inside and not self.always:
            return self.python(*args)
        if stage.machine or here.ahead or self.always:
            return self.machine(*args)
        return interpreted(self.python, args)


_linked: dict[str, dict[str, Any]] = {}


def linked(namespace: dict[str, Any]) -> dict[str, Any]:
    """A module's globals with machine code for each function in them that is to be compiled."""
    name = namespace["__name__"]
    if name not in _linked:
        _linked[name] = dict(namespace)  # before its functions are made, which ask for it again
        _linked[name] |= {key: value.machine for key, value in namespace.items() if isinstance(value, Compiled)}
    return _linked[name]


def interpreted(function: Callable[..., Any], args: tuple[Any, ...]) -> Any:
    """What ``function`` gives by Python, the time of it counted."""
    began = time.perf_counter()
    here.inside = True
    try:
        with np.errstate(all="ignore"):
            return function(*args)
    finally:
        here.inside = False
        stage.spent_s += time.perf_counter() - began
        if stage.spent_s > BUDGET_S and not stage.beside:
            stage.machine = True


def foresee(seconds: float) -> None:
    """Say that what comes would take Python about so long: where that is worth machine code, it is taken at once."""
    if stage.spent_s + seconds > BUDGET_S and not stage.beside:
        stage.machine = True


@contextmanager
def ahead() -> Iterator[None]:
    """Within it, this thread computes in machine code."""
    before, here.ahead = here.ahead, True
    try:
        yield
    finally:
        here.ahead = before


def make_ready(work: Callable[[], object]) -> None:
    """Load machine code by doing ``work`` with it, all others computing on interpreted meanwhile, and let everyone use
    it then.
    """
    stage.beside = True
    try:
        with ahead():
            work()
    finally:
        stage.machine, stage.beside = True, False


@overload
def compiled(function: F) -> F: ...
@overload
def compiled(*, always: bool) -> Callable[[F], F]: ...
def compiled(function: F | None = None, *, always: bool = False) -> F | Callable[[F], F]:
    """``function`` in machine code where that is worth it (see above); ``always`` where it goes through pixels or a
    view's every cell, at which Python takes minutes.

    Arithmetic is numpy's: a division by zero is infinite or no number, never an error. What is compiled may hold only
    loops over numbers and arrays, and takes its arguments in order; callers hand it contiguous arrays, as a different
    layout would be compiled anew.
    """
    if function is None:
        return lambda it: cast(F, Compiled(cast(FunctionType, it), always))
    return cast(F, Compiled(cast(FunctionType, function), always))
