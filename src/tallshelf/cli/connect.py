"""``tallshelf connect``: the block that connects a host to a release."""

from __future__ import annotations

import argparse
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.host_profile import host_notes
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, BadReference, ShelfError
from tallshelf.core.snapshot import parse_reference

if TYPE_CHECKING:
    from tallshelf.client import Shelf

DESCRIPTION = """\
Print the JSON that a host's configuration needs. Secrets are placeholders, never values. A
suspended or withdrawn release is refused; a deprecated one, or a suspended item of it, is warned about. A
block hands out a whole server, also the items that a kit does not pick."""
EXAMPLES = """\
tallshelf connect berth-planner
tallshelf connect berth-planner@1.4.2 --environment test
tallshelf connect --kit berth-assistant --host desk-assistant"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "release", nargs="?", default="", metavar="REFERENCE", help="server, or server@version"
    )
    parser.add_argument("--kit", default="", metavar="KIT", help="every release that a kit holds, instead")
    parser.add_argument("--environment", default="", help="production by default, where there is one")
    parser.add_argument(
        "--host", default="", metavar="PROFILE", help="say what this host of the house style cannot use of it"
    )
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    if bool(args.kit) == bool(args.release):
        raise BadArgument("connect takes a release or a kit", remedy="Write server[@version], or --kit KIT.")
    if args.kit:
        return _kit(args, io)
    place = parse_reference(args.release)
    if not place.server:
        raise BadReference(f"{args.release!r} names no release", remedy="Write server or server@version.")
    shelf = io.shelf()
    connection = shelf.connection(place.server, place.version or "current", args.environment)
    of_host = host_notes(args.host, [connection], shelf, io) if args.host else {}
    if connection["warning"]:
        from tallshelf.core.reports import escape

        io.note(f"warning: {escape(connection['warning'])}")
    io.print_json({**connection, **of_host} if args.format == "json" else connection["block"])
    return GATE_FAILED if of_host and of_host["host"]["unusable"] else FINE


def _kit(args: argparse.Namespace, io: IO) -> int:
    """Print one map with a block for each server of a kit; what may not be used is left out, and said."""
    from tallshelf.core.reports import escape

    shelf = io.shelf()
    kit = shelf.kit(args.kit)
    blocks: dict[str, Any] = {}
    handed_out = []
    left_out: list[dict[str, str]] = []
    for server, version in sorted({(one["server"], one["version"]) for one in kit["lock"]}):
        try:
            connection = shelf.connection(
                server, version, args.environment or _environment(kit, server, version, shelf)
            )
        except ShelfError as fault:
            left_out.append({"server": server, "version": version, "reason": str(fault)})
            io.note(f"left out: {escape(str(fault))}")
            continue
        if connection["warning"]:
            io.note(f"warning: {escape(connection['warning'])}")
        blocks |= connection["block"]["mcpServers"]
        handed_out.append(connection)
    of_host = host_notes(args.host, handed_out, shelf, io) if args.host else {}
    block = {"mcpServers": blocks}
    io.print_json(
        {"kit": kit["name"], "block": block, "left_out": left_out, **of_host}
        if args.format == "json"
        else block
    )
    cannot = bool(of_host) and of_host["host"]["unusable"]
    return GATE_FAILED if left_out or cannot else FINE


def _environment(kit: Mapping[str, Any], server: str, version: str, shelf: Shelf) -> str:
    """Return the environment of a kit where a release is run there, else none: what it is run in by default."""
    launches = shelf.release(server, version)["launch"]
    return (
        kit["environment"] if any(launch["environment"] == kit["environment"] for launch in launches) else ""
    )
