"""``tallshelf overlap``: tools that do the same job."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.core.snapshot import Snapshot, parse_reference

if TYPE_CHECKING:
    from tallshelf.core.overlap import MixUp, Overlap

DESCRIPTION = """\
Find items that seem to do the same job, with the reasons and what differs: among the snapshots given and
within each, or in a service's catalog. Says too which tools of one snapshot a chooser may mix up."""
EXAMPLES = """\
tallshelf overlap crew-roster.json crew-directory.json
tallshelf overlap crew-directory.json --catalog
tallshelf overlap crew-roster --catalog --related"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "snapshots", nargs="+", metavar="REFERENCE", help="a file, or server[@version][#item]"
    )
    parser.add_argument("--catalog", action="store_true", help="look in the service's catalog as well")
    parser.add_argument(
        "--related",
        action="store_true",
        help="show weaker pairs too: related ones, and siblings of one server that are near",
    )
    options.add_style(parser)
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.overlap import entries_of, mix_ups, overlaps_among
    from tallshelf.core.reports import overlaps_document, overlaps_text

    given = {name: options.load(name, io)[0] for name in args.snapshots}
    terms = options.terms(args.style, args.snapshots, io, on_shelf=args.catalog)
    sources = [entries_of(name, one.items, one.server_name, None, terms) for name, one in given.items()]
    overlaps: list[Overlap] = list(overlaps_among(sources))
    confused: list[MixUp] = [mix_up for own in sources for mix_up in mix_ups(own)]
    if args.catalog:
        for name, snapshot in given.items():
            overlaps += [
                overlap for overlap in _in_catalog(name, snapshot, io) if overlap.b.source not in given
            ]
    overlaps.sort(key=lambda overlap: (-overlap.score, overlap.a.item, overlap.b.source, overlap.b.item))
    if args.format == "json":
        io.print_json(overlaps_document(overlaps, confused))
    else:
        io.print(overlaps_text(overlaps, io.paint, confused, related=args.related))
    return 0


def _in_catalog(name: str, snapshot: Snapshot, io: IO) -> list[Overlap]:
    """Return what a snapshot overlaps with in other servers of the catalog."""
    from msgspec.structs import replace

    from tallshelf.core.reports import overlaps_from

    place = parse_reference(name)
    server = place.server or None
    overlaps, _ = overlaps_from(io.shelf().check_overlaps(snapshot.document(), server=server))
    own = server or snapshot.server_name or "this snapshot"
    return [
        replace(overlap, a=replace(overlap.a, source=name)) for overlap in overlaps if overlap.b.source != own
    ]
