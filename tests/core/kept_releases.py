"""Releases of one base, edited at random and kept with what is told of them, so that each change is seen.

    python -m tests.core.kept_releases

tells it anew; read the difference before you commit it. Edits were chosen so that each makes a difference to another
part of the comparison.
"""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tallshelf.core.changes import compare_snapshots, groups_of, items_of, next_version
from tallshelf.core.reports import change_document
from tallshelf.core.snapshot import snapshot_from

DATA = Path(__file__).with_name("data")
BASE, CASES = DATA / "releases-base.json", DATA / "releases.jsonl"
SLICE = 10
GONE = "__gone__"
"""What stands in an edit for taking out what was there."""


def base() -> dict[str, Any]:
    return dict(json.loads(BASE.read_text("utf-8")))


def kept() -> list[dict[str, Any]]:
    return [json.loads(line) for line in CASES.read_text("utf-8").splitlines()]


def slices(cases: list[dict[str, Any]]) -> Iterator[list[dict[str, Any]]]:
    for begin in range(0, len(cases), SLICE):
        yield cases[begin : begin + SLICE]


def told(case: dict[str, Any]) -> list[Any]:
    """Return the honest version and why, then groups, items and changes in the order in which they are told."""
    old, new = snapshot_from(base()), snapshot_from(edited(case["edits"]))
    if case["back"]:
        old, new = new, old
    found = compare_snapshots(old, new)
    version = next_version(old.declared_version, new.declared_version, found)
    changes = [
        {name: value for name, value in change_document(one).items() if name not in ("basis", "ruled")}
        for one in found.changes
    ]
    return [
        [version.honest, version.fault, list(version.because), list(found.not_checked), found.untouched],
        [[one.kind, one.message, len(one.changes)] for one in groups_of(found.changes)],
        [[one.item, one.impact, list(one.reach), one.counts] for one in items_of(found.changes)],
        *changes,
    ]


def edited(edits: list[list[Any]]) -> dict[str, Any]:
    """Return the base with something else, or nothing, at each path."""
    document = base()
    for path, value in edits:
        *before, last = path.split("/")
        place: Any = document
        for step in before:
            place = place[int(step)] if isinstance(place, list) else place.setdefault(step, {})
        key: Any = int(last) if isinstance(place, list) else last
        if value != GONE:
            place[key] = copy.deepcopy(value)
        elif isinstance(place, list) or key in place:
            del place[key]
    return document


def _keep() -> None:
    lines = [json.dumps(case | {"told": told(case)}, ensure_ascii=False) for case in kept()]
    CASES.write_text("\n".join(lines) + "\n", "utf-8")


if __name__ == "__main__":
    _keep()
