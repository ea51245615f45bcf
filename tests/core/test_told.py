"""What is told of everyday changes stays as it was read and agreed to, word for word."""

from __future__ import annotations

import json

import pytest

from tests.core.told import FILE, written

pytestmark = pytest.mark.kept


def test_what_is_told_of_everyday_changes_is_what_was_read():
    kept, now = (json.loads(text) for text in (FILE.read_text("utf-8"), written()))
    moved = {
        name: (kept.get(name), now.get(name))
        for name in kept.keys() | now.keys()
        if kept.get(name) != now.get(name)
    }
    assert not moved, "run `python -m tests.core.told`, and read what changed"
