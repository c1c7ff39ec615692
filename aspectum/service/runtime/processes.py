"""Processes beside the server's own that compute: Python computes on one processor in each process only."""

from __future__ import annotations

import logging
import os
import pickle
import signal
import socket
import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from multiprocessing.connection import Connection
from typing import ParamSpec, TypeVar

from aspectum.language import say, speak, spoken
from aspectum.service.errors import Busy

PATIENCE_S = 60.0  # a class's pages take some seconds; nothing here takes a minute unless it hangs
NICER = 5  # who saves or reads is served before what is computed, where both want the processor

log = logging.getLogger(__name__)
P = ParamSpec("P")
Answer = TypeVar("Answer")


class Lost(Exception):
    """The process died over a question, or gave no answer in time."""


class Process:
    """One process that computes, and this end of the pipe to it."""

    def __init__(self, module: str) -> None:
        # a fresh interpreter: a copy of a process with threads may hold their locks for good
        own, other = socket.socketpair()
        with other:
            command = [sys.executable, "-m", module, str(other.fileno())]
            self.process = subprocess.Popen(command, stdin=subprocess.DEVNULL, pass_fds=[other.fileno()])
        self.pipe = Connection(own.detach())

    def ask(self, function: Callable[P, Answer], /, *args: P.args, **kwargs: P.kwargs) -> Answer:
        """What ``function`` answers, or raises. Raises ``Lost``."""
        try:
            self.pipe.send((spoken(), function, args, kwargs))
            if not self.pipe.poll(PATIENCE_S):
                raise Lost
            well, answer = self.pipe.recv()
        except (EOFError, OSError) as error:
            raise Lost from error
        if not well:
            raise answer
        given: Answer = answer
        return given

    def close(self) -> None:
        self.process.kill()
        self.process.wait()
        self.pipe.close()


class Processes:
    """``places`` processes, each at one question at a time. One that is lost is begun anew, and its question asked once
    more.
    """

    def __init__(self, places: int, module: str = __name__) -> None:
        """``module``: what each runs, with the number of its end of the pipe; it ends in ``compute``."""
        self.places, self.module = places, module
        self._all = [Process(module) for _ in range(places)]

    def run(self, place: int, function: Callable[P, Answer], /, *args: P.args, **kwargs: P.kwargs) -> Answer:
        """``function`` and what goes in and out are pickled. Raises ``Busy`` where two processes are lost over it."""
        for _ in range(2):
            try:
                return self._all[place].ask(function, *args, **kwargs)
            except Lost:
                log.warning("a computing process was lost and is begun anew")
                self._all[place].close()
                self._all[place] = Process(self.module)
        raise Busy(say("This could not be computed just now. Try again in a moment."))

    def close(self) -> None:
        for one in self._all:
            one.close()


def compute(pipe: Connection) -> None:
    """Answer what comes through ``pipe`` until the server, whose end it is, is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the server's end is this one's
    with suppress(AttributeError, OSError):  # not every system knows it
        os.nice(NICER)

    with suppress(EOFError, OSError):
        while True:
            language, function, args, kwargs = pipe.recv()
            speak(language)
            try:
                answer = (True, function(*args, **kwargs))
            except Exception as error:
                answer = (False, carried(error))
            pipe.send(answer)


def carried(error: Exception) -> Exception:
    """An error as it can be sent to the server, which is not so for every one."""
    try:
        pickle.loads(pickle.dumps(error))
    except Exception:
        log.exception("in a computing process", exc_info=error)
        return RuntimeError(f"{type(error).__name__} in a computing process")
    return error


if __name__ == "__main__":
    compute(Connection(int(sys.argv[1])))
