"""What is told of releases that were edited at random stays as it was kept."""

from __future__ import annotations

import json

import pytest

from tests.core.kept_releases import kept, slices, told

pytestmark = pytest.mark.kept
SLICES = list(slices(kept()))


@pytest.mark.parametrize("number", range(len(SLICES)))
def test_what_is_told_of_edited_releases_is_what_was_kept(number):
    for case in SLICES[number]:
        now = json.loads(json.dumps(told(case)))
        assert now == case["told"], "run `python -m tests.core.kept_releases`, and read what changed"
