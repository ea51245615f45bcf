"""A pytest plugin: do the tests bite? It runs them once, notes which block of which function each goes through,
then changes one function at a time and asks whether a test that goes through the changed block fails.

Neither mutmut nor cosmic-ray fits: both begin an interpreter, and here a database, anew for each mutant or for each
file, and 1,500 of them in half an hour leave a second for each. Here all is loaded once, each mutant is a child
process of that, and a function is changed where it stands, by its code. Now and then a child runs its tests with
nothing changed: where such a control fails, what was found says little.

    make mutation SEED=7
"""

from __future__ import annotations

import random
import sys
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import hypothesis
import pytest

from tests.mutation.children import Children
from tests.mutation.mutants import Mutant, mutants_of
from tests.mutation.noting import Noted, note_all

SOURCE = Path(__file__).parents[2] / "src/tallshelf"
PACKAGES = {
    "core/entitlement": ["core/entitlement"],
    "people": ["service/people", "service/ledger"],
    "review": ["service/review"],
    "core/compat": ["core/compat"],
    "core/changes": ["core/changes"],
}
"""What decides, by the name under which its result is told."""
WANTED = 0.85
_EACH_CONTROL = 60


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
    group.addoption("--minutes", type=float, default=27, help="at most, the whole run")
    group.addoption("--package", action="append", default=[], help="only this one (may be given again)")


@pytest.hookimpl(tryfirst=True)
def pytest_runtestloop(session: pytest.Session) -> bool:
    option = session.config.getoption
    ends = time.monotonic() + option("--minutes") * 60
    packages = {
        name: paths
        for name, paths in PACKAGES.items()
        if not option("--package") or name in option("--package")
    }
    drawn = _draw(packages, option("--mutants"), option("--seed"))
    noted = note_all(session, [one for mutants in drawn.values() for one in mutants])
    say = session.config.get_terminal_writer().line
    say(f"\n{len(session.items)} tests run once, and {len(noted.through)} blocks that they go through")
    tallies, controls, failed = _try_all(session, drawn, noted, ends)
    _report(say, tallies)
    say(f"{controls} controls with nothing changed, {failed} of them failed")
    return True


def _draw(packages: dict[str, list[str]], number: int, seed: int) -> dict[str, list[Mutant]]:
    drawn = {}
    for name, paths in packages.items():
        chosen = random.Random(f"{seed} {name}")
        files = sorted(file for path in paths for file in _files(SOURCE / path))
        drawn[name] = mutants_of(files, number, chosen)
    return drawn


def _files(path: Path) -> list[Path]:
    return [path] if path.is_file() else [one for one in path.rglob("*.py") if "migrations" not in one.parts]


def _try_all(
    session: pytest.Session, drawn: dict[str, list[Mutant]], noted: Noted, ends: float
) -> tuple[dict[str, Tally], int, int]:
    """Return a tally by package, and how many controls ran and failed."""
    tallies = {name: Tally() for name in drawn}
    waiting = [(name, one) for name, all_of in drawn.items() for one in all_of]
    random.Random(0).shuffle(waiting)  # so that a run that ends early has tried of each package
    children = Children(session)
    controls = failed = 0
    while waiting or children.running:
        while waiting and children.has_room() and time.monotonic() < ends:
            name, one = waiting.pop()
            if not (tests := noted.tests_of(one)):
                tallies[name].unreached.append(one)
                continue
            children.begin((name, one), one, tests)
            if len(waiting) % _EACH_CONTROL == 0:
                children.begin(None, None, tests)
        if not children.running:
            break
        tried, fails, test = children.wait()
        if tried is None:
            controls, failed = controls + 1, failed + fails
        elif fails:
            tallies[tried[0]].found += 1
            if test is not None:
                noted.found(tried[1], test)
        else:
            tallies[tried[0]].survived.append(tried[1])
    return tallies, controls, failed


def _report(say: Any, tallies: dict[str, Tally]) -> None:
    for name, tally in tallies.items():
        tried = tally.found + len(tally.survived) + len(tally.unreached)
        share = tally.found / tried if tried else 0.0
        say(
            f"{name:18} {tried:4} mutants, {tally.found:4} found ({share:.2f}, at least {WANTED} is wanted); "
            f"{len(tally.survived)} survived, {len(tally.unreached)} that no test goes through"
        )
        for word, rows in (("survived", tally.survived), ("not reached", tally.unreached)):
            for one in sorted(rows, key=str):
                say(f"    {word}: {str(one).removeprefix(str(SOURCE) + '/')}")
    sys.stdout.flush()
