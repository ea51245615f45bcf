"""Rules on what a server declares about itself as a whole."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.snapshot import is_version
from tallshelf.core.style.rule import Rule, Spot, Subject


def _same_name_twice(subject: Subject) -> Iterator[Spot]:
    for identity in sorted(subject.snapshot.twice):
        yield Spot(identity, "", "it is declared more than once; which one a host takes is chance")


def _odd_version(subject: Subject) -> Iterator[Spot]:
    info = subject.snapshot.server_info
    if "version" not in info:
        return
    version = subject.snapshot.declared_version
    if version is None or not is_version(version):
        yield Spot(
            "server",
            "/serverInfo/version",
            f"{info['version']!r} is not a SemVer version; write MAJOR.MINOR.PATCH",
        )


def _version_differs(subject: Subject) -> Iterator[Spot]:
    declared = subject.snapshot.declared_version
    if subject.version is not None and declared is not None and declared != subject.version:
        yield Spot(
            "server",
            "/serverInfo/version",
            f"the server calls itself {declared} and is submitted as {subject.version}",
        )


def _info(version: str) -> dict[str, object]:
    return {"format": "tallshelf.snapshot/1", "server": {"serverInfo": {"name": "s", "version": version}}}


_TOOL = {"name": "find_crew", "inputSchema": {"type": "object"}}

RULES = (
    Rule(
        id="same-name-twice",
        family="server",
        covers=(),
        level="error",
        reason="Two items under one name cannot both be called, and cannot be compared.",
        check=_same_name_twice,
        bad={"tools": [_TOOL, {**_TOOL, "description": "Find crew."}]},
        good={"tools": [_TOOL]},
    ),
    Rule(
        id="odd-version",
        family="server",
        covers=("version-not-semver",),
        level="error",
        reason="Only a SemVer number tells users whether an update is safe.",
        check=_odd_version,
        bad=_info("june build"),
        good=_info("1.4.0"),
    ),
    Rule(
        id="version-differs",
        family="server",
        covers=(),
        level="warning",
        reason="Users who see one number in the catalog and another in their host lose the thread.",
        check=_version_differs,
        bad=_info("1.3.0"),
        good=_info("1.4.0"),
        submitted_as="1.4.0",
    ),
)
