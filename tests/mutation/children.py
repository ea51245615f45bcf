"""Child processes in which tests are run, each with a data directory and a database of its own."""

from __future__ import annotations

import dataclasses
import gc
import os
import shutil
import signal
import tempfile
from collections import defaultdict
from functools import cache
from pathlib import Path
from types import CodeType, FunctionType
from typing import Any

import pytest

from tests.mutation.mutants import Mutant

_FOUND_BY = "found-by"


class Children:
    """As many at a time as there are cores."""

    def __init__(self, session: pytest.Session) -> None:
        self._session = session
        self.running: dict[int, tuple[Any, Path]] = {}
        functions()
        gc.freeze()

    def has_room(self) -> bool:
        return len(self.running) < (os.cpu_count() or 1)

    def begin(self, what: Any, mutant: Mutant | None, tests: list[tuple[int, float]]) -> None:
        """Try tests, each with its usual seconds, on a mutant, or on nothing changed."""
        data = Path(tempfile.mkdtemp(prefix="tallshelf-mutant-"))
        pid = os.fork()
        if pid:
            self.running[pid] = what, data
            return
        try:
            signal.alarm(int(10 + 4 * sum(seconds for _, seconds in tests)))  # who hangs is found
            be_quiet(data)
            if mutant is not None:
                put_code(mutant.path, mutant.first, mutant.code)
            for test, _ in tests:
                if not run_one(self._session, self._session.items[test]):
                    (data / _FOUND_BY).write_text(str(test))
                    os._exit(1)
        except BaseException:
            os._exit(1)
        os._exit(0)

    def wait(self) -> tuple[Any, bool, int | None]:
        """Return what was tried, whether a test failed on it, and which, where that is known."""
        pid, status = os.wait()
        what, data = self.running.pop(pid)
        told = data / _FOUND_BY
        test = int(told.read_text()) if told.exists() else None
        shutil.rmtree(data, ignore_errors=True)
        return what, status != 0, test


def run_one(session: pytest.Session, item: pytest.Item) -> bool:
    """Run a test, with what it sets up for its file, and return whether it passed."""
    catch = _Catch()
    manager = item.config.pluginmanager
    manager.register(catch)
    try:
        item.config.hook.pytest_runtest_protocol(item=item, nextitem=_Elsewhere(session))
    finally:
        manager.unregister(catch)
    session.testsfailed = 0
    return not catch.failed


class _Catch:
    failed = False

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        self.failed |= report.failed


class _Elsewhere:
    """Stands for the next test, one of which nothing is known: only what is set up for the session stays."""

    def __init__(self, session: pytest.Session) -> None:
        self._session = session

    def listchain(self) -> list[pytest.Session]:
        return [self._session]


def be_quiet(data: Path) -> None:
    """Print nothing from here on, and keep files in a directory of this process's own."""
    null = os.open(os.devnull, os.O_WRONLY)
    os.dup2(null, 1)
    os.dup2(null, 2)
    from django.conf import settings

    from tallshelf.service.web import rate_limit

    shutil.copytree(settings.CONFIG.data, data, dirs_exist_ok=True)
    settings.CONFIG = dataclasses.replace(settings.CONFIG, data=data)
    vars(rate_limit._local).clear()


@cache
def functions() -> dict[tuple[str, int], list[FunctionType]]:
    """Return the functions of the program, by the file and line where they begin."""
    found: dict[tuple[str, int], list[FunctionType]] = defaultdict(list)
    for one in gc.get_objects():
        if type(one) is FunctionType and "/tallshelf/" in one.__code__.co_filename:
            found[one.__code__.co_filename, one.__code__.co_firstlineno].append(one)
    return found


def put_code(path: Path, first: int, code: CodeType) -> None:
    """Let the functions that begin there do what a code object says, and those that were made by it already."""
    for one in functions().get((str(path), first), ()):
        if (one.__code__.co_name, one.__code__.co_freevars) == (code.co_name, code.co_freevars):
            one.__code__ = code
    for inner in code.co_consts:
        if isinstance(inner, CodeType):
            put_code(path, inner.co_firstlineno, inner)
