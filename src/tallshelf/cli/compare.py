"""``tallshelf compare``: what breaks between two releases, and for whom."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO

DESCRIPTION = (
    "Compare two releases: every difference with its impact, whom it reaches, and a proof where it breaks."
)
EXAMPLES = """\
tallshelf compare berth-planner@1.4.2 berth-planner.json
tallshelf compare old.json new.json --gate --format json"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("old", metavar="OLD", help="a file, or server[@version][#item]")
    parser.add_argument("new", metavar="NEW", help="a file, or server[@version][#item]")
    parser.add_argument("--all", action="store_true", help="show changes that nobody meets, too")
    parser.add_argument(
        "--gate", action="store_true", help="exit with 1 when the version is too low or undecided"
    )
    options.add_format(parser, "text", "json", "markdown")


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.changes import compare_snapshots, next_version
    from tallshelf.core.reports import comparison_document, comparison_markdown, comparison_text
    from tallshelf.core.snapshot import is_version

    (old, base), (new, declared) = options.load(args.old, io), options.load(args.new, io)
    comparison = compare_snapshots(old, new)
    version = next_version(
        base if base and is_version(base) else None,
        declared if declared and is_version(declared) else None,
        comparison,
    )
    if args.format == "json":
        io.print_json(comparison_document(comparison, version))
    elif args.format == "markdown":
        io.print(comparison_markdown(comparison, version, args.old, args.new))
    else:
        io.print(comparison_text(comparison, version, io.paint, folded=args.all))
    failed = not version.is_honest or comparison.count("undecided") > 0
    return GATE_FAILED if args.gate and failed else FINE
