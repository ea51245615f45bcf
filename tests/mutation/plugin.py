"""A pytest plugin: do the tests bite? It runs them once, notes which function each goes through, then changes one
function at a time and asks whether a test that goes through it fails.

Neither mutmut nor cosmic-ray fits: both begin an interpreter, and here a database, anew for each mutant or for each
file, and 1,500 of them in half an hour leave a second for each. Here all is loaded once, each mutant is a child
process of that, and a function is changed where it stands, by its code.

    make mutation SEED=7
"""

from __future__ import annotations

import gc
import os
import random
import signal
import sys
import time
from collections import defaultdict
from dataclasses import dataclass, field
from pathlib import Path
from types import CodeType, FunctionType
from typing import Any

import hypothesis
import pytest

from tests.mutation.mutants import Mutant, mutants_of

SOURCE = Path(__file__).parents[2] / "src/tallshelf"
PACKAGES = {
    "core/entitlement": ["core/entitlement", "service/people/permissions.py", "service/people/entries.py"],
    "people": ["service/people", "service/ledger"],
    "review": ["service/review"],
    "core/compat": ["core/compat"],
    "core/changes": ["core/changes"],
}
"""What decides, by the name under which its result is told."""
MOST_TESTS, MOST_SECONDS = 25, 12
_WANTED = 0.85


@dataclass
class Tally:
    found: int = 0
    survived: list[Mutant] = field(default_factory=list)
    unreached: list[Mutant] = field(default_factory=list)


def pytest_configure(config: pytest.Config) -> None:
    """Few examples of each property: a mutant is tried on many tests, and each of them for seconds at most."""
    hypothesis.settings.register_profile("mutation", max_examples=10, deadline=None, database=None)
    hypothesis.settings.load_profile("mutation")


def pytest_addoption(parser: pytest.Parser) -> None:
    group = parser.getgroup("mutation")
    group.addoption("--mutants", type=int, default=300, help="how many for each package")
    group.addoption("--seed", type=int, default=7, help="by which they are chosen")
    group.addoption("--minutes", type=float, default=29, help="at most, the whole run")
    group.addoption("--package", default="", help="only this one")


@pytest.hookimpl(tryfirst=True)
def pytest_runtestloop(session: pytest.Session) -> bool:
    ends = time.monotonic() + session.config.getoption("--minutes") * 60
    through, seconds = _note(session)
    wanted = session.config.getoption("--package")
    packages = {name: paths for name, paths in PACKAGES.items() if wanted in ("", name)}
    drawn = _draw(packages, session.config.getoption("--mutants"), session.config.getoption("--seed"))
    tallies = _try_all(session, drawn, through, seconds, ends)
    _report(session, tallies)
    return True


def _note(session: pytest.Session) -> tuple[dict[tuple[str, int], list[Any]], dict[Any, float]]:
    """Run every test once, and return which go through each function, and how long each takes."""
    through: dict[tuple[str, int], list[Any]] = defaultdict(list)
    seconds: dict[Any, float] = {}
    prefix = str(SOURCE)
    for item in session.items:
        seen: set[CodeType] = set()

        def note(frame: Any, event: str, _: Any, seen: set[CodeType] = seen) -> None:
            if event == "call":
                seen.add(frame.f_code)

        begun = time.monotonic()
        sys.setprofile(note)
        try:
            item.config.hook.pytest_runtest_protocol(item=item, nextitem=None)
        finally:
            sys.setprofile(None)
        seconds[item] = time.monotonic() - begun
        for code in seen:
            if code.co_filename.startswith(prefix):
                through[code.co_filename, code.co_firstlineno].append(item)
    if session.testsfailed:
        raise pytest.UsageError("the tests must pass before they are tried on mutants")
    return through, seconds


def _draw(packages: dict[str, list[str]], number: int, seed: int) -> dict[str, list[Mutant]]:
    drawn = {}
    for name, paths in packages.items():
        chosen = random.Random(f"{seed} {name}")
        files = sorted(file for path in paths for file in _files(SOURCE / path))
        found = [one for file in files for one in mutants_of(file, 10_000, chosen)]
        chosen.shuffle(found)
        drawn[name] = found[:number]
    return drawn


def _files(path: Path) -> list[Path]:
    return [path] if path.is_file() else [one for one in path.rglob("*.py") if "migrations" not in one.parts]


def _try_all(
    session: pytest.Session,
    drawn: dict[str, list[Mutant]],
    through: dict[tuple[str, int], list[Any]],
    seconds: dict[Any, float],
    ends: float,
) -> dict[str, Tally]:
    tallies = {name: Tally() for name in drawn}
    waiting = [(name, one) for name, all_of in drawn.items() for one in all_of]
    random.Random(0).shuffle(waiting)  # so that a run that ends early has tried of each package
    functions = _functions()
    gc.freeze()
    running: dict[int, tuple[str, Mutant]] = {}
    while waiting or running:
        while waiting and len(running) < (os.cpu_count() or 1) and time.monotonic() < ends:
            name, one = waiting.pop()
            tests = sorted(through.get((str(one.path), one.first), ()), key=seconds.__getitem__)[:MOST_TESTS]
            if not tests:
                tallies[name].unreached.append(one)
                continue
            pid = os.fork()
            if pid == 0:
                _child(one, functions.get((str(one.path), one.first), []), tests)
            running[pid] = (name, one)
        if not running:
            break
        pid, status = os.wait()
        name, one = running.pop(pid)
        if status == 0:
            tallies[name].survived.append(one)
        else:
            tallies[name].found += 1
    return tallies


def _functions() -> dict[tuple[str, int], list[FunctionType]]:
    found: dict[tuple[str, int], list[FunctionType]] = defaultdict(list)
    for one in gc.get_objects():
        if isinstance(one, FunctionType) and one.__code__.co_filename.startswith(str(SOURCE)):
            found[one.__code__.co_filename, one.__code__.co_firstlineno].append(one)
    return found


def _child(mutant: Mutant, functions: list[FunctionType], tests: list[Any]) -> None:
    """In a child process: change the function, run the tests, and leave with 1 when one of them fails."""
    signal.alarm(MOST_SECONDS)  # who hangs is found
    null = os.open(os.devnull, os.O_WRONLY)
    os.dup2(null, 1)
    os.dup2(null, 2)
    for one in functions:
        if len(one.__code__.co_freevars) == len(mutant.code.co_freevars):
            one.__code__ = mutant.code
    for item in tests:
        item.session.testsfailed = 0
        reports: list[Any] = []
        item.config.pluginmanager.register(_Catch(reports))
        item.config.hook.pytest_runtest_protocol(item=item, nextitem=None)
        if any(report.failed for report in reports):
            os._exit(1)
    os._exit(0)


class _Catch:
    """Takes the reports of one test."""

    def __init__(self, reports: list[Any]) -> None:
        self._reports = reports

    def pytest_runtest_logreport(self, report: Any) -> None:
        self._reports.append(report)


def _report(session: pytest.Session, tallies: dict[str, Tally]) -> None:
    write = session.config.get_terminal_writer().line
    write()
    for name, tally in tallies.items():
        tried = tally.found + len(tally.survived) + len(tally.unreached)
        share = tally.found / tried if tried else 0.0
        write(
            f"{name:18} {tried:4} mutants, {tally.found:4} found ({share:.2f}, at least {_WANTED} is wanted); "
            f"{len(tally.survived)} survived, {len(tally.unreached)} that no test goes through"
        )
        for word, rows in (("survived", tally.survived), ("not reached", tally.unreached)):
            for one in sorted(rows, key=str):
                write(f"    {word}: {str(one).removeprefix(str(SOURCE) + '/')}")
