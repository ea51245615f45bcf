"""Facts of a request at which nothing stands out."""

from __future__ import annotations

from tallshelf.core.routing import Facts

FACTS = Facts(
    first_release=False,
    worst_impact=None,
    undecided=False,
    silent_changes=0,
    version_honest=True,
    errors=0,
    warnings=0,
    safety_findings=0,
    same_job_overlaps=0,
    writing_tools=0,
    newly_writing_tools=0,
    data_class="internal",
    transports=("stdio",),
    origin="handed in by a person",
    pinned=True,
    tokens=10,
    team="berths",
)
