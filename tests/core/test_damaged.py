"""What the judge says of ledgers that are damaged in one place stays as it was read and agreed to, line for line."""

from __future__ import annotations

import pytest

from tests.core.damaged import kept, ledgers, told

pytestmark = pytest.mark.kept


@pytest.mark.parametrize("name", ledgers())
def test_what_is_said_of_each_damage_is_as_it_was_kept(name):
    found, wanted = list(told(name)), kept(name)
    moved = [
        f"{after!r}, was {before!r}" for before, after in zip(wanted, found, strict=False) if before != after
    ]
    assert not moved[:5], "python -m tests.core.damaged tells it anew"
    assert len(found) == len(wanted)
