"""Launch records of two releases: how each environment runs the server."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from tallshelf.core.changes._make import make
from tallshelf.core.changes.result import Change
from tallshelf.core.snapshot import LaunchRecord, Package, is_version

ITEM = "server"


Versions = set[tuple[str, str]]
"""Versions of the old and the new side that stand for each other: of the server, of its packages."""


def compare_launches(
    old: Iterable[LaunchRecord], new: Iterable[LaunchRecord], versions: Iterable[tuple[str, str]] = ()
) -> tuple[Change, ...]:
    """Return the changes of the launch records, environment by environment.

    A command in which only the version moved, as one of ``versions`` or of a package did, is the same.
    """
    before = {record.environment: record for record in old}
    after = {record.environment: record for record in new}
    moved = {*versions}
    moved |= {
        (was.version, now.version)
        for name in before.keys() & after.keys()
        if (was := before[name].package) and (now := after[name].package)
    }
    changes: list[Change] = []
    for name in sorted({*before, *after}):
        if name not in after:
            changes.append(make("launch-removed", ITEM, f"{name}: the launch record is gone"))
        elif name not in before:
            changes.append(make("launch-added", ITEM, f"{name}: a launch record is new"))
        else:
            changes += _record(name, before[name], after[name], moved)
    return tuple(changes)


def _record(name: str, old: LaunchRecord, new: LaunchRecord, moved: Versions) -> Iterator[Change]:
    if old.transport != new.transport:
        yield make(
            "transport-changed", ITEM, f"{name}: the transport was {old.transport} and is now {new.transport}"
        )
    elif old.url != new.url:
        yield make("address-changed", ITEM, f"{name}: the address was {old.url} and is now {new.url}")
    words = [" ".join((launch.command, *launch.args)) for launch in (old, new)]
    if old.command and new.command and not _same_command(words[0], words[1], moved):
        yield make("command-changed", ITEM, f"{name}: the command was {words[0]!r} and is now {words[1]!r}")
    if old.package != new.package and new.package is not None:
        yield from _package(name, old.package, new.package)
    for what, was, now in (("variable", old.env, new.env), ("header", old.headers, new.headers)):
        for one in sorted({*now} - {*was}):
            yield make("secret-needed", ITEM, f"{name}: the {what} {one} is now needed")
        for one in sorted({*was} - {*now}):
            yield make("secret-dropped", ITEM, f"{name}: the {what} {one} is no longer needed")


def _same_command(old: str, new: str, moved: Versions) -> bool:
    return old == new or any(was and old.replace(was, now) == new for was, now in moved)


def _package(name: str, old: Package | None, new: Package) -> Iterator[Change]:
    if old is None or old.name != new.name:
        was = old.name if old else "none"
        yield make("package-changed", ITEM, f"{name}: the package was {was} and is now {new.name}")
    elif is_version(old.version) and not is_version(new.version):
        message = f"{name}: {new.name} was {old.version} and is now {new.version or 'any version'}"
        yield make("package-unpinned", ITEM, message)
    elif is_version(new.version) and not is_version(old.version):
        message = f"{name}: {new.name} was {old.version or 'any version'} and is now {new.version}"
        yield make("package-pinned", ITEM, message)
    elif old.version != new.version:
        yield make(
            "package-version-moved", ITEM, f"{name}: {new.name} was {old.version} and is now {new.version}"
        )
    elif old.integrity and new.integrity and old.integrity != new.integrity:
        message = f"{name}: {new.name} {new.version} has other bytes under the same version"
        yield make("package-changed", ITEM, message)
    if old is not None and old.integrity and not new.integrity:
        yield make("package-unpinned", ITEM, f"{name}: {new.name} is no longer pinned by a hash")
