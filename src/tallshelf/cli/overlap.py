"""``tallshelf overlap``: tools that do the same job."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING

from tallshelf.cli import options
from tallshelf.cli.io import IO

if TYPE_CHECKING:
    from tallshelf.core.overlap import Overlap

DESCRIPTION = "Find items that seem to do the same job: among the snapshots given, or in a service's catalog."
EXAMPLES = """\
tallshelf overlap crew-roster.json crew-directory.json
tallshelf overlap crew-directory.json --catalog"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "snapshots", nargs="+", metavar="REFERENCE", help="a file, or server[@version][#item]"
    )
    parser.add_argument("--catalog", action="store_true", help="look in the service's catalog as well")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.overlap import CatalogItem, MemoryIndex, find_overlaps
    from tallshelf.core.reports import overlaps_document, overlaps_text

    given = [(name, options.load(name, io)[0]) for name in args.snapshots]
    items = [CatalogItem(name, item) for name, snapshot in given for item in snapshot.items]
    if args.catalog:
        names = {snapshot.server_name for _, snapshot in given}
        items += [one for one in io.shelf().catalog_items() if one.source not in names]
    index = MemoryIndex(items)
    found: dict[frozenset[tuple[str, str]], Overlap] = {}
    for name, snapshot in given:
        for one in find_overlaps(snapshot.items, name, index):
            key = frozenset({(one.a.source, one.a.item), (one.b.source, one.b.item)})
            found.setdefault(key, one)
    overlaps = sorted(found.values(), key=lambda one: (-one.score, one.a.item))
    if args.format == "json":
        io.print_json(overlaps_document(overlaps))
    else:
        io.print(overlaps_text(overlaps, io.paint))
    return 0
