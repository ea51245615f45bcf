"""Launch records of two releases."""

from __future__ import annotations

import pytest

from tallshelf.core.changes import compare_snapshots
from tallshelf.core.snapshot import parse_launches, snapshot_from

STDIO = {
    "environment": "production",
    "transport": "stdio",
    "command": "uvx",
    "args": ["harbour@1.0.0"],
    "package": {"name": "harbour", "version": "1.0.0", "integrity": "sha256-0a"},
    "env": ["HARBOUR_TOKEN"],
}
HTTP = {
    "environment": "production",
    "transport": "streamable-http",
    "url": "https://harbour.pellam.example/mcp",
}


@pytest.mark.parametrize(
    ("old", "new", "kinds"),
    [
        ([STDIO], [STDIO], []),
        ([STDIO], [{**STDIO, "environment": "test"}, STDIO], ["launch-added"]),
        ([STDIO], [], ["launch-removed"]),
        ([STDIO], [HTTP], ["secret-dropped", "transport-changed"]),
        ([HTTP], [{**HTTP, "url": "https://elsewhere.pellam.example/mcp"}], ["address-changed"]),
        ([STDIO], [{**STDIO, "args": ["harbour@1.0.0", "--write"]}], ["command-changed"]),
        (
            [STDIO],
            [
                {
                    **STDIO,
                    "args": ["harbour@1.1.0"],
                    "package": {"name": "harbour", "version": "1.1.0", "integrity": "sha256-0b"},
                }
            ],
            ["package-version-moved"],
        ),
        (
            [STDIO],
            [{**STDIO, "package": {"name": "harbor", "version": "1.0.0", "integrity": "sha256-0a"}}],
            ["package-changed"],
        ),
        (
            [STDIO],
            [{**STDIO, "package": {"name": "harbour", "version": "1.0.0", "integrity": "sha256-0b"}}],
            ["package-changed"],
        ),
        ([STDIO], [{**STDIO, "package": {"name": "harbour", "version": "1.0.0"}}], ["package-unpinned"]),
        ([STDIO], [{**STDIO, "env": ["HARBOUR_TOKEN", "HARBOUR_KEY"]}], ["secret-needed"]),
        ([HTTP], [{**HTTP, "headers": ["X-Berth"]}], ["secret-needed"]),
    ],
)
def test_how_it_is_run(old, new, kinds):
    snapshot = snapshot_from({"tools": []})
    comparison = compare_snapshots(snapshot, snapshot, parse_launches(old), parse_launches(new))
    assert sorted(change.kind for change in comparison.changes) == kinds
    assert all(change.reach == ("operators",) for change in comparison.changes)
    assert compare_snapshots(snapshot, snapshot, None, parse_launches(new)).changes == ()
