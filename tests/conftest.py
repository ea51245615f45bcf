"""No test fails by the clock: what is slow is measured under bench/."""

from __future__ import annotations

import pytest
from hypothesis import settings

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Begin with what shares one demo: one worker does it all, while the others do the rest."""
    items.sort(key=lambda item: not any(one.args == ("demo",) for one in item.iter_markers("xdist_group")))
