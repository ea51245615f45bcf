"""``tallshelf lint``: names and descriptions against the house style."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument

DESCRIPTION = "Check a snapshot against the house style. Exits with 1 when an error finding counts."
EXAMPLES = """\
tallshelf lint berth-planner.json
tallshelf lint berth-planner.json --format json
tallshelf lint --rules"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "snapshots", nargs="*", metavar="REFERENCE", help="a file, or server[@version][#item]"
    )
    parser.add_argument("--rules", action="store_true", help="list the rules instead")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import lint_document, lint_text
    from tallshelf.core.style import lint

    if args.rules:
        return _list_rules(args, io)
    if not args.snapshots:
        raise BadArgument("there is nothing to check", remedy="Name a snapshot, or ask for --rules.")
    results = [(name, lint(options.load(name, io)[0])) for name in args.snapshots]
    if args.format == "json":
        documents = [lint_document(findings) for _, findings in results]
        named = {name: document for (name, _), document in zip(results, documents, strict=True)}
        io.print_json(documents[0] if len(documents) == 1 else named)
    else:
        for number, (name, findings) in enumerate(results):
            if len(results) > 1:
                io.print(("\n" if number else "") + io.paint.bold(name))
            io.print(lint_text(findings, io.paint))
    failed = any(one.counts and one.level == "error" for _, findings in results for one in findings)
    return GATE_FAILED if failed else FINE


def _list_rules(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import table
    from tallshelf.core.style import RULES

    if args.format == "json":
        io.print_json(
            [
                {
                    "rule": rule.id,
                    "family": rule.family,
                    "covers": list(rule.covers),
                    "level": rule.level,
                    "reason": rule.reason,
                }
                for rule in RULES
            ]
        )
    else:
        rows = [(rule.family, rule.id, rule.level, rule.reason) for rule in RULES]
        io.print(table(rows, ("family", "rule", "level", "reason"), io.paint))
    return FINE
