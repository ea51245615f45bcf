"""``tallshelf routing``: the rules by which requests reach desks: show, try, apply, answer."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options, versions
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO

DESCRIPTION = """\
Show the routing rules, try others on past requests, and apply them. Rules that ask less (a rule gone,
fewer sign-offs, later, under other conditions) are proposed, and in force when a second curator agrees."""
EXAMPLES = """\
tallshelf routing show > routing.toml
tallshelf routing try routing.toml --days 90
tallshelf routing apply routing.toml --note 'Security sees every tool of an open world.'
tallshelf routing answer 4 agree"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    versions.add_reading(acts, "the rules")
    tried = acts.add_parser("try", help="say who would have been asked by other rules")
    tried.add_argument("file", metavar="FILE", help="the rules, as TOML")
    tried.add_argument("--days", type=int, default=90, metavar="NUMBER", help="how far to look back (90)")
    options.add_format(tried)
    versions.add_changing(acts, "the rules")


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "show":
        return versions.show(shelf.routing(args.version), args, io)
    if args.act == "history":
        return versions.history(shelf.routing_versions(), "routing", args, io)
    if args.act == "try":
        return _tried(shelf.try_routing(options.text_of(args.file, io), days=args.days), args, io)
    if args.act == "answer":
        routing = shelf.answer_routing(args.version, args.answer, args.note)
    else:
        routing = shelf.apply_routing(options.text_of(args.file, io), args.note, seen=args.seen)
    if args.format == "text" and routing["state"] == "proposed":
        for words in routing["loosened"]:
            io.print(io.paint.amber(f"it asks less: {words}"))
    return versions.told(routing, "routing", "routing rules", args, io)


def _tried(document: dict[str, Any], args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import table

    if args.format == "json":
        io.print_json(document)
        return FINE
    io.print(f"Tried on {document['requests']} requests of the last {args.days} days.")
    cells = [
        (
            row["desk"],
            f"{row['requests_before']} -> {row['requests_after']}",
            f"{row['sign_offs_before']} -> {row['sign_offs_after']}",
        )
        for row in document["desks"]
    ]
    io.print(table(cells, ("desk", "requests", "sign-offs"), io.paint))
    before, after = document["approved_by_rule_before"], document["approved_by_rule_after"]
    if before or after:
        io.print(f"Approved by a rule alone: {before} -> {after}.")
    for one in document["moved"][:10]:
        added = f"also {', '.join(one['added'])}" if one["added"] else ""
        dropped = f"no more {', '.join(one['dropped'])}" if one["dropped"] else ""
        io.print(
            f"  request {one['request']}: {'; '.join(filter(None, (added, dropped))) or 'other numbers'}"
        )
    if len(document["moved"]) > 10:
        io.print(f"  and {len(document['moved']) - 10} more that would have gone another way")
    for words in document["loosened"]:
        io.print(io.paint.amber(f"it asks less: {words}"))
    for words in document["faults"]:
        io.print(io.paint.red(f"it cannot be in force: {words}"))
    if not document["faults"]:
        io.note("next: tallshelf routing apply")
    return FINE
