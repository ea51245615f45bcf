"""``tallshelf ask``: ask that a release ends, a suspension is lifted, or a data class changes."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import request_text
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import Reference, parse_reference

DESCRIPTION = """\
Ask for an act on a release or a server. It is sent to the desks that must agree, like a release, and is
carried out when the last of them does. To publish, use submit."""
EXAMPLES = """\
tallshelf ask deprecate berth-planner@1.4.1 --until 2027-03-01 --instead berth-planner --reason 'No depths.'
tallshelf ask withdraw crew-roster@2.0.0 --reason 'It ignores rest hours.'
tallshelf ask lift crew-travel#cancel_travel --reason 'Mended in 2.0.1.'
tallshelf ask data-class muster-drills public --reason 'The plans hang in every mess room.'"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    kinds = (
        ("deprecate", "that nobody begins with a release any more", "server@version"),
        ("withdraw", "that nobody uses a release any more", "server@version"),
        ("lift", "that a suspension ends", "server, or server#item"),
        ("data-class", "that a server may see other data", "server"),
    )
    for name, words, metavar in kinds:
        one = acts.add_parser(name, help=words)
        one.add_argument("reference", metavar="REFERENCE", help=metavar)
        if name == "deprecate":
            one.add_argument("--until", metavar="DATE", help="the last day of its use")
            one.add_argument("--instead", default="", metavar="REFERENCE", help="what to use instead")
        if name == "data-class":
            one.add_argument(
                "data_class",
                metavar="CLASS",
                choices=("public", "internal", "confidential", "restricted"),
                help="public, internal, confidential or restricted",
            )
        one.add_argument("--reason", required=True, metavar="TEXT", help="why; the desks read it")
        options.add_format(one)


def run(args: argparse.Namespace, io: IO) -> int:
    place = parse_reference(args.reference)
    if place.file:
        raise BadArgument("this is asked of a server in the catalog", remedy="Name it by its slug.")
    found = io.shelf().ask(args.act, place.server, args.reason, **_terms(args, place))
    if args.format == "json":
        io.print_json(found)
        return FINE
    io.print(request_text(found, io.paint))
    if found["state"] == "open":
        io.note(f"next: the desks above are asked; watch it with tallshelf show {found['id']}")
    return FINE


def _terms(args: argparse.Namespace, place: Reference) -> dict[str, Any]:
    if args.act == "data-class":
        return {"data_class": args.data_class}
    if args.act == "lift":
        return {"item": place.item}
    if not place.version or place.item:
        raise BadArgument("name a release", remedy=f"Such as {place.server}@1.0.0.")
    if args.act == "withdraw":
        return {"version": place.version}
    until = options.end_of_day(args.until) if args.until else None
    return {"version": place.version, "sunset_at": until, "replacement": args.instead}
