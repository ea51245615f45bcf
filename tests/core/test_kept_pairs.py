"""What is told of pairs of schemas of every kind stays as it was kept, and takes no more work."""

from __future__ import annotations

import json

import pytest

from tests.core.kept_pairs import kept, kept_steps, slices, steps, stood_in, told

pytestmark = pytest.mark.kept
SLICES = list(slices(kept()))


@pytest.mark.parametrize("number", range(len(SLICES)))
def test_what_is_told_of_pairs_of_every_kind_is_what_was_kept(number):
    for pair in SLICES[number]:
        now = json.loads(json.dumps(told(pair)))
        assert now == pair["told"], "run `python -m tests.core.kept_pairs`, and read what changed"


@pytest.mark.parametrize("number", range(0, len(SLICES), 2))
def test_which_may_stand_in_for_which_is_what_was_kept(number):
    for pair in SLICES[number]:
        assert stood_in(pair) == pair["stood_in"]


@pytest.mark.parametrize("number", range(len(SLICES)))
def test_it_takes_as_many_steps_as_it_did(number):
    assert steps(SLICES[number]) == kept_steps()[number]
