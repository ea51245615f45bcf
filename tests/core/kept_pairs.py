"""Pairs of schemas of every kind, drawn at random and kept with what is told of them, so that each change is seen.

    python -m tests.core.kept_pairs

tells it anew; read the difference before you commit it. Pairs were chosen so that each makes a difference to another
part of the comparison. Beside them is kept how many steps each slice of them takes: the work that the bound counts.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tallshelf.core.compat import _compare, compare_schemas, stand_in
from tallshelf.core.compat._budget import Budget

DATA = Path(__file__).with_name("data")
PAIRS, STEPS = DATA / "pairs.jsonl", DATA / "pairs-steps.json"
SLICE = 25
Told = list[Any]


class Counted(Budget):
    """A budget that tells how much of all budgets was used."""

    used = 0

    def spend(self, steps: int = 1) -> None:
        if not self._paid:
            Counted.used += steps
        super().spend(steps)


def kept() -> list[dict[str, Any]]:
    return [json.loads(line) for line in PAIRS.read_text("utf-8").splitlines()]


def kept_steps() -> list[int]:
    return list(json.loads(STEPS.read_text("utf-8")))


def slices(pairs: list[dict[str, Any]]) -> Iterator[list[dict[str, Any]]]:
    for begin in range(0, len(pairs), SLICE):
        yield pairs[begin : begin + SLICE]


def told(pair: dict[str, Any]) -> Told:
    """Return the verdict, why it is undecided, how much is untold, and every difference with its witness."""
    found = compare_schemas(pair["old"], pair["new"], pair["position"], pair["reading"])
    rows = [
        [
            one.keyword,
            one.verdict,
            one.message,
            one.old_pointer,
            one.new_pointer,
            *(["counted"] if one.counted else []),
            *([one.witness.instance, one.witness.accepted_by, *one.witness.ignored] if one.witness else []),
        ]
        for one in found.differences
    ]
    return [found.verdict, found.reason, found.untold, *rows]


def stood_in(pair: dict[str, Any]) -> Told:
    """Return whether a tool whose arguments, or results, are the new schema can take the place of the old one."""
    field = "inputSchema" if pair["position"] == "input" else "outputSchema"
    old, new = {field: pair["old"]}, {} if pair["new"] == {} else {field: pair["new"]}
    found = stand_in(old, new)
    return [
        found.stands_in,
        *([one.position, one.verdict, one.difference.message] for one in found.obstacles),
    ]


def steps(pairs: list[dict[str, Any]]) -> int:
    Counted.used = 0
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(_compare, "Budget", Counted)
        for pair in pairs:
            told(pair)
    return Counted.used


def _keep() -> None:
    pairs = kept()
    told_of = (pair | {"told": told(pair), "stood_in": stood_in(pair)} for pair in pairs)
    lines = [json.dumps(one, ensure_ascii=False) for one in told_of]
    PAIRS.write_text("\n".join(lines) + "\n", "utf-8")
    STEPS.write_text(json.dumps([steps(part) for part in slices(pairs)]) + "\n", "utf-8")


if __name__ == "__main__":
    _keep()
