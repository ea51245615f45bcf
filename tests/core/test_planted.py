"""Planted faults are found, by a rule that covers them, and well-written tools are left in peace."""

from __future__ import annotations

import pytest

from tallshelf.core.snapshot import snapshot_from
from tallshelf.core.style import lint
from tests.core.planted import PLANTED, WELL_WRITTEN
from tests.core.planted_subtly import SUBTLE, TRAPS
from tests.core.test_style import SLUGS


def test_every_slug_has_a_planted_fault():
    assert set(PLANTED) == SLUGS
    assert sum(map(len, (*PLANTED.values(), *SUBTLE.values()))) > 400


@pytest.mark.parametrize("slug", PLANTED)
def test_a_planted_fault_is_found_at_warning_or_above(slug):
    for document in (*PLANTED[slug], *SUBTLE.get(slug, ())):
        found = lint(snapshot_from(document))
        assert any(slug in one.covers and one.level != "note" for one in found), (document, found)


@pytest.mark.parametrize("tools", [WELL_WRITTEN, TRAPS], ids=["odd", "alarming"])
def test_well_written_tools_are_left_in_peace(tools):
    found = [one for one in lint(snapshot_from({"tools": tools})) if one.level != "note"]
    assert len(tools) >= 40
    assert [(one.rule, one.item, one.message) for one in found] == []
