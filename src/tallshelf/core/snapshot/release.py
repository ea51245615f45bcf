"""Launch records, and the digest that covers a whole release."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from msgspec import Struct

from tallshelf.core.errors import BadDocument
from tallshelf.core.formats import check_format
from tallshelf.core.snapshot.canonical import digest


class Package(Struct, frozen=True):
    """The package a server is started from, with the hash that pins its bytes."""

    name: str
    version: str
    integrity: str = ""


class LaunchRecord(Struct, frozen=True):
    """How one environment runs a server: names of variables and headers, never their values."""

    environment: str
    transport: str
    command: str = ""
    args: tuple[str, ...] = ()
    package: Package | None = None
    url: str = ""
    env: tuple[str, ...] = ()
    headers: tuple[str, ...] = ()

    def document(self) -> dict[str, Any]:
        """Return the record as a ``tallshelf.launch/1`` document, without empty members."""
        package = self.package and {
            "name": self.package.name,
            "version": self.package.version,
            **({"integrity": self.package.integrity} if self.package.integrity else {}),
        }
        members = {
            "environment": self.environment,
            "transport": self.transport,
            "command": self.command,
            "args": list(self.args),
            "package": package,
            "url": self.url,
            "env": list(self.env),
            "headers": list(self.headers),
        }
        return {name: value for name, value in members.items() if value}


def parse_launch(document: Any) -> LaunchRecord:
    """Read one launch record; raise `BadDocument` when it does not fit the format."""
    check_format(
        "launch-1",
        document,
        "not a launch record",
        "A stdio record needs a command, an HTTP record a url; env and headers list names only.",
    )
    package = document.get("package")
    return LaunchRecord(
        environment=document["environment"],
        transport=document["transport"],
        command=document.get("command", ""),
        args=tuple(document.get("args", ())),
        package=Package(**package) if package else None,
        url=document.get("url", ""),
        env=tuple(document.get("env", ())),
        headers=tuple(document.get("headers", ())),
    )


def parse_launches(documents: Iterable[Any]) -> tuple[LaunchRecord, ...]:
    """Read the launch records of a release, at most one for each environment, in order."""
    records = sorted(map(parse_launch, documents), key=lambda record: record.environment)
    names = [record.environment for record in records]
    for name in names:
        if names.count(name) > 1:
            raise BadDocument(f"two launch records for the environment {name!r}", remedy="Keep one.")
    return tuple(records)


def release_digest(
    server: str, version: str, snapshot: str, launches: Iterable[LaunchRecord], *, breaking: bool = False
) -> str:
    """Return the digest over server slug, version, snapshot digest and launch records.

    It also covers that a release of a calendar scheme is declared ``breaking``, where it is.
    """
    covered: Mapping[str, Any] = {
        "server": server,
        "version": version,
        "snapshot": snapshot,
        "launch": [record.document() for record in sorted(launches, key=lambda record: record.environment)],
        **({"breaking": True} if breaking else {}),
    }
    return digest(covered)
