"""Which tests go through which block of a function: each test is run once, and blocks tell of themselves."""

from __future__ import annotations

import builtins
import importlib
import inspect
import os
import pickle
import re
import tempfile
import time
from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property
from itertools import chain, zip_longest
from pathlib import Path
from random import Random

import pytest

from tests.mutation.children import be_quiet, put_code, run_one
from tests.mutation.mutants import Mutant, noting

MOST_TESTS, MOST_SECONDS = 150, 9.0
_QUICK, _SPOKEN = 0.3, 12
Place = tuple[str, int]
"""A file and the line where a block of a function begins."""


@dataclass
class Noted:
    through: dict[Place, list[int]] = field(default_factory=lambda: defaultdict(list))
    """The tests that go through a block, by their place among all."""
    seconds: dict[int, float] = field(default_factory=dict)
    failed: list[int] = field(default_factory=list)
    files: list[Path] = field(default_factory=list)
    """The file of each test."""
    kept: set[int] = field(default_factory=set)
    """The tests that hold all that is told against what was kept."""
    says: dict[int, frozenset[str]] = field(default_factory=dict)
    """The words of each test's source."""
    found_by: dict[Path, Counter[int]] = field(default_factory=lambda: defaultdict(Counter))
    """How many mutants of a file a test has found so far."""

    def found(self, mutant: Mutant, test: int) -> None:
        """Keep in mind which test found a mutant: it is tried first on others there."""
        self.found_by[mutant.path][test] += 1

    def tests_of(self, mutant: Mutant) -> list[tuple[int, float]]:
        """Return the tests to try on a mutant, each with its seconds: those that found others, those that speak of
        what its line speaks of, those that hold all that is told against what was kept, then of each file one, by lot
        among the quick ones, then the next.
        """
        through = self.through.get((str(mutant.path), mutant.block), ())
        found_by, lot = self.found_by[mutant.path], Random(str(mutant))
        by_file: dict[Path, list[int]] = defaultdict(list)
        for test in sorted(through, key=lambda one: (max(self.seconds[one], _QUICK), lot.random())):
            by_file[self.files[test]].append(test)
        turns = (one for row in zip_longest(*by_file.values()) for one in row if one is not None)
        order = sorted(through, key=lambda one: -found_by[one] / (self.seconds[one] + 0.05))
        known = [one for one in order if found_by[one]]
        whole = sorted(self.kept.intersection(through), key=lambda one: self.seconds[one])
        chosen: dict[int, float] = {}
        left = MOST_SECONDS
        spoken = [one for one in self._speaking(mutant, through) if one not in self.kept]
        for test in chain(known, spoken[:_SPOKEN], whole, turns):
            least = MOST_SECONDS / 3 if test in self.kept and not found_by[test] else 0.0
            if test in chosen or (chosen and self.seconds[test] > left - least):
                continue
            chosen[test] = self.seconds[test]
            left -= self.seconds[test]
            if len(chosen) == MOST_TESTS:
                break
        return list(chosen.items())

    def _speaking(self, mutant: Mutant, tests: Iterable[int]) -> list[int]:
        """Return tests by how much of what a mutant's lines say they say too: a rare word counts more than a common
        one (inverse document frequency, Spärck Jones 1972), and a quick test more than a slow one.
        """
        lines = mutant.path.read_text("utf-8").splitlines()[mutant.line - 2 : mutant.line + 2]
        words = _words(" ".join([mutant.name, *lines]))
        worth = {word: 1 / (1 + self._often[word]) for word in words}
        scored = [
            (sum(worth[word] for word in words & self.says[one]) / (self.seconds[one] + _QUICK), one)
            for one in tests
        ]
        return [one for score, one in sorted(scored, key=lambda row: -row[0]) if score > 0]

    @cached_property
    def _often(self) -> Counter[str]:
        return Counter(word for words in self.says.values() for word in words)


def _words(text: str) -> frozenset[str]:
    return frozenset(re.findall(r"[a-z]{3,}", text.lower()))


def _source(item: pytest.Item) -> str:
    return inspect.getsource(item.function) if isinstance(item, pytest.Function) else ""


def note_all(session: pytest.Session, mutants: Iterable[Mutant]) -> Noted:
    """Run every test once, in as many processes as there are cores.

    Errors: ``pytest.UsageError`` where a test fails with nothing changed.
    """
    wanted: dict[Path, set[int]] = defaultdict(set)
    for one in mutants:
        wanted[one.path].add(one.first)
    for path in wanted:
        importlib.import_module(".".join(path.with_suffix("").parts[path.parts.index("src") + 1 :]))
    _open_database(session)
    told: set[Place] = set()
    builtins._noted = told.add  # type: ignore[attr-defined]
    cores = os.cpu_count() or 1
    reading = [_fork(session, wanted, told, slice(number, None, cores)) for number in range(cores)]
    noted = Noted(files=[item.path for item in session.items])
    noted.says = {at: _words(f"{item.nodeid} {_source(item)}") for at, item in enumerate(session.items)}
    noted.kept = {at for at, item in enumerate(session.items) if item.get_closest_marker("kept")}
    for pid, pipe in reading:
        with os.fdopen(pipe, "rb") as stream:
            part: Noted = pickle.load(stream)
        os.waitpid(pid, 0)
        for place, tests in part.through.items():
            noted.through[place].extend(tests)
        noted.seconds |= part.seconds
        noted.failed += part.failed
    if noted.failed:
        names = ", ".join(session.items[one].nodeid for one in noted.failed)
        raise pytest.UsageError(f"these tests must pass before they are tried on mutants: {names}")
    return noted


def _open_database(session: pytest.Session) -> None:
    """Run one test that needs the database, whose tables all children then have."""
    needs = (item for item in session.items if "db" in getattr(item, "fixturenames", ()))
    if (item := next(needs, None)) is not None:
        run_one(session, item)


def _fork(
    session: pytest.Session, wanted: dict[Path, set[int]], told: set[Place], mine: slice
) -> tuple[int, int]:
    reading, writing = os.pipe()
    pid = os.fork()
    if pid:
        os.close(writing)
        return pid, reading
    os.close(reading)
    with tempfile.TemporaryDirectory(prefix="tallshelf-mutant-") as data:
        noted = _child(session, Path(data), wanted, told, range(len(session.items))[mine])
    with os.fdopen(writing, "wb") as stream:
        pickle.dump(noted, stream)
    os._exit(0)


def _child(
    session: pytest.Session, data: Path, wanted: dict[Path, set[int]], told: set[Place], mine: Iterable[int]
) -> Noted:
    be_quiet(data)
    for path, lines in wanted.items():
        for first, code in noting(path, lines).items():
            put_code(path, first, code)
    noted = Noted()
    noted.through = {}
    for number in mine:
        told.clear()
        begun = time.monotonic()
        if not run_one(session, session.items[number]):
            noted.failed.append(number)
        noted.seconds[number] = time.monotonic() - begun
        for place in told:
            noted.through.setdefault(place, []).append(number)
    return noted
