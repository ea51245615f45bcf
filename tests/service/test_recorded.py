"""What is answered, and to whom it is refused, stays as it was read and agreed to, word for word.

    TALLSHELF_RECORD=1 .venv/bin/pytest tests/service/test_recorded.py

keeps it anew; read the difference before you commit it.
"""

from __future__ import annotations

import os
from dataclasses import replace
from datetime import timedelta

import pytest

from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import overlap
from tallshelf.service.ledger.queries import all_entries
from tallshelf.service.verifying import verify
from tests.core import damaged
from tests.service.chapters_again import CHAPTERS
from tests.service.recorded import BEGUN, Chapter, check

pytestmark = pytest.mark.kept


@pytest.mark.parametrize("name", CHAPTERS)
def test_it_reads_as_it_was_kept(name, db, settings):
    overlap.forget()
    settings.CONFIG = replace(settings.CONFIG, webhook_allow=("http://127.0.0.1:9",))
    with clock.at(BEGUN - timedelta(days=30)):
        history.add_people()
        catalog.enrol_server(
            history.actor("tomas"),
            "berth-planner",
            title="Berth planner",
            team="berths",
            contact="c@pellam.example",
        )
    tale = Chapter()
    try:
        CHAPTERS[name](tale)
    except Exception:
        print("\n".join(tale.what.lines[-30:]))
        raise
    found = verify()
    assert found.holds, found
    if os.environ.get("TALLSHELF_LEDGERS"):
        damaged.keep(name, all_entries())
    anew = bool(os.environ.get("TALLSHELF_RECORD"))
    told = {"who": tale.who, "what": tale.what}
    moved = [line for part, one in told.items() for line in check(f"{name}-{part}", one.lines, anew=anew)]
    assert not moved, "\n".join([*moved, "TALLSHELF_RECORD=1 keeps it anew"])
