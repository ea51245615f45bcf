"""Releases compared as a team would meet them: the right item, impact, reach and honest version."""

from __future__ import annotations

import pytest

from tallshelf.core.changes import IMPACTS, compare_snapshots, next_version
from tallshelf.core.snapshot import snapshot_from
from tests.core.release_pairs import BASE, PAIRS, Pair, edited


def test_there_are_enough():
    assert len(PAIRS) >= 110
    assert len({pair.name for pair in PAIRS}) == len(PAIRS)


@pytest.mark.parametrize("pair", PAIRS, ids=lambda pair: pair.name)
def test_a_pair_of_releases(pair: Pair):
    old, new = snapshot_from(BASE), snapshot_from(edited(pair.edits))
    comparison = compare_snapshots(old, new)
    told = [change for change in comparison.changes if not change.folded]
    if pair.expected is None:
        assert [change.message for change in told if change.impact != "compatible"] == []
        return
    wanted = pair.expected
    assert any(
        change.item == wanted.item
        and change.impact == wanted.impact
        and wanted.reach in change.reach
        and change.silent == wanted.silent
        for change in told
    ), told
    worst = min((IMPACTS.index(change.impact) for change in told), default=len(IMPACTS))
    assert worst == IMPACTS.index(wanted.impact), told
    assert {change.item for change in told if change.impact != "compatible"} <= {wanted.item}
    assert next_version("1.4.0", "1.4.0", comparison).honest == wanted.honest
