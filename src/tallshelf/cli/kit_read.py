"""``tallshelf kit read``: a kit proposed from what a team has."""

from __future__ import annotations

import argparse
import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, NotFound
from tallshelf.core.kits import ONLY_READING, Kit, Pick, kit_text, parse_range
from tallshelf.core.kits.reading import HostServer, host_servers, mentioned
from tallshelf.core.snapshot import Snapshot, parse_json, snapshot_from

_HOST_KEY = "mcpServers"


class Sources:
    """What some files say: servers of hosts, snapshots, and names that texts mention."""

    def __init__(self) -> None:
        self.hosts: list[HostServer] = []
        self.snapshots: list[Snapshot] = []
        self.names: dict[str, None] = {}

    def take(self, path: str, data: bytes) -> None:
        """Take in one file; raise `BadArgument` for one that is neither JSON of ours or of a host nor text."""
        document = parse_json(data) if path.endswith(".json") or data.lstrip()[:1] == b"{" else None
        if isinstance(document, dict) and _HOST_KEY in document:
            self.hosts += host_servers(document)
        elif document is not None:
            self.snapshots.append(snapshot_from(document))
        else:
            try:
                sure, perhaps = mentioned(data.decode("utf-8"))
            except UnicodeDecodeError:
                raise BadArgument(f"{path} is neither JSON nor UTF-8 text") from None
            self.names |= dict.fromkeys((*sure, *perhaps))


def run(args: argparse.Namespace, io: IO) -> int:
    """Read the files, ask the catalog what it knows of what they name, and print a kit."""
    sources = Sources()
    for path in args.files:
        sources.take(path, io.read_bytes(path))
    shelf = io.shelf()
    names = [
        *sources.names,
        *(identity for snapshot in sources.snapshots for identity in _identities(snapshot)),
    ]
    hosts = [
        *sources.hosts,
        *(HostServer(snapshot.server_name or "this snapshot") for snapshot in sources.snapshots),
    ]
    known = shelf.read_for_kit(
        [
            {"name": server.name, "command": server.command, "args": list(server.args), "url": server.url}
            for server in hosts
        ],
        names,
    )
    picks = _picks(known)
    if not picks:
        _notes(known, io)
        raise NotFound(
            "nothing that these files name is on the shelf",
            remedy="tallshelf find WORDS looks by what tools do.",
        )
    name = args.name or _slug(Path(args.files[0]).stem)
    team = args.team or next(iter(shelf.me()["teams"]), "") or "your-team"
    kit = Kit(
        name=name,
        title=name.replace("-", " ").capitalize(),
        team=team,
        contacts=(shelf.me()["username"],),
        purpose=f"Read from {', '.join(Path(file).name for file in args.files)}.",
        picks=tuple(picks),
    )
    if args.format == "json":
        io.print_json({"kit": kit.document(), "known": known})
        return FINE
    if args.output:
        io.write_file(args.output, kit_text(kit))
    else:
        io.out.write(kit_text(kit))
    _notes(known, io)
    io.note(f"next: look it through, then tallshelf kit check {args.output or 'FILE'}")
    return FINE


def _identities(snapshot: Snapshot) -> list[str]:
    return [item.identity for item in snapshot.items]


def _picks(known: Mapping[str, Any]) -> list[Pick]:
    """Return a pick for each server that was recognised or whose items are named: those items, else what reads."""
    versions = {server["server"]: server["version"] for server in known["servers"] if server["server"]}
    items: dict[str, list[str]] = {slug: [] for slug in versions}
    for item in known["items"]:
        own = [slug for slug in item["servers"] if slug in versions]
        for slug in own or item["servers"][:1]:
            items.setdefault(slug, []).append(item["item"])
    return [
        Pick(slug, parse_range(_range(versions.get(slug, ""))), tuple(dict.fromkeys(named)) or None)
        for slug, named in sorted(items.items())
    ]


def _range(version: str) -> str:
    """Return the range that promises to fit what is current; `current` where numbers promise nothing."""
    numbers = re.fullmatch(r"(\d+)\.(\d+)\.\d+(?:\+.*)?", version)
    return f"^{numbers[1]}.{numbers[2]}" if numbers and int(numbers[1]) < 1000 else "current"


def _slug(text: str) -> str:
    found = re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")[:64].strip("-")
    return found if len(found) > 1 else "kit"


def _notes(known: Mapping[str, Any], io: IO) -> None:
    from tallshelf.core.reports import wrap

    for server in known["servers"]:
        if not server["server"]:
            io.note(wrap(f"{server['name']}: not on the shelf; nobody approved it", "  ", "✗ "))
        elif server["because"] != "name" or server["server"] != server["name"]:
            io.note(wrap(f"{server['name']} is {server['server']}, by its {server['because']}", "  ", "· "))
    for item in known["items"]:
        if not item["servers"]:
            near = f"; nearest: {', '.join(item['nearest'])}" if item["nearest"] else ""
            gone = f"{_listed(item['gone_from'])} had it, and has it no more" if item["gone_from"] else ""
            io.note(wrap(f"{item['name']}: {gone or 'there is none there, and never was'}{near}", "  ", "✗ "))
        elif len(item["servers"]) > 1:
            io.note(wrap(f"{item['name']}: {_listed(item['servers'])} each have it", "  ", "~ "))
    if any(server["server"] for server in known["servers"]):
        io.note(f'a server whose items no text names is picked with items = "{ONLY_READING}"')


def _listed(names: Sequence[str]) -> str:
    return " and ".join(names)
