"""``tallshelf lint``: names and descriptions against the house style."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterable
from typing import TYPE_CHECKING

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import parse_reference

if TYPE_CHECKING:
    from tallshelf.core.snapshot import Snapshot
    from tallshelf.core.style import Finding, HouseStyle, Rule

DESCRIPTION = "Check a snapshot against the house style. Exits with 1 when an error finding counts."
EXAMPLES = """\
tallshelf lint berth-planner.json
tallshelf lint berth-planner.json --level warning --format markdown
tallshelf lint berth-planner.json --fix mended.json
tallshelf lint *.json --style house.toml --format sarif
tallshelf lint --explain quantity-without-unit"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "snapshots", nargs="*", metavar="REFERENCE", help="a file, or server[@version][#item]"
    )
    parser.add_argument("--rules", action="store_true", help="list the rules instead")
    parser.add_argument(
        "--explain", metavar="RULE", help="say what a rule finds, why, and with which settings"
    )
    options.add_style(parser)
    parser.add_argument(
        "--level", choices=("error", "warning", "note"), default="note", help="show what is at least this bad"
    )
    parser.add_argument("--rule", action="append", default=[], metavar="RULE", help="show this rule alone")
    parser.add_argument(
        "--fix", metavar="FILE", help="write a copy with the safe suggestions applied, and say what is left"
    )
    options.add_format(parser, "text", "json", "markdown", "sarif", "junit")


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.style import lint

    if args.rules:
        return _list_rules(args, io)
    if args.explain:
        return _explain(args.explain, io)
    if not args.snapshots:
        raise BadArgument("there is nothing to check", remedy="Name a snapshot, or ask for --rules.")
    style = options.style_of(args.style, io)
    for name in args.rule:
        _rule(name)
    snapshots = {name: options.load(name, io)[0] for name in args.snapshots}
    if args.fix:
        snapshots = _fix(args, snapshots, style, io)
    results = {
        name: _by_service(name, io)
        if _is_asked(name, args)
        else lint(snapshot, style=style, launches=options.launches(name, io))
        for name, snapshot in snapshots.items()
    }
    _show({name: _shown(findings, args) for name, findings in results.items()}, snapshots, args, io)
    failed = any(
        finding.counts and finding.level == "error" for findings in results.values() for finding in findings
    )
    return GATE_FAILED if failed else FINE


def _is_asked(name: str, args: argparse.Namespace) -> bool:
    """Whether the service says what it finds: in its own releases, unless a style or a mended copy is meant."""
    return not (args.style or args.fix or parse_reference(name).file)


def _by_service(reference: str, io: IO) -> tuple[Finding, ...]:
    from tallshelf.core.reports import finding_from

    place = parse_reference(reference)
    rows = io.shelf().findings(place.server, place.version or "current")
    return tuple(finding_from(row) for row in rows if place.item in ("", row["item"]))


def _shown(findings: Iterable[Finding], args: argparse.Namespace) -> tuple[Finding, ...]:
    from tallshelf.core.style import LEVELS

    worst = LEVELS[: LEVELS.index(args.level) + 1]
    return tuple(
        finding
        for finding in findings
        if finding.level in worst and (not args.rule or finding.rule in args.rule)
    )


def _show(
    results: dict[str, tuple[Finding, ...]], snapshots: dict[str, Snapshot], args: argparse.Namespace, io: IO
) -> None:
    from tallshelf import __version__
    from tallshelf.core import reports

    if args.format == "json":
        documents = {name: reports.lint_document(findings) for name, findings in results.items()}
        io.print_json(next(iter(documents.values())) if len(documents) == 1 else documents)
    elif args.format == "sarif":
        texts = {name: io.read_bytes(name).decode("utf-8") for name in results if _is_file(name)}
        io.print_json(reports.lint_sarif(results, __version__, texts))
    elif args.format == "junit":
        io.print(reports.lint_junit(results))
    elif args.format == "markdown":
        io.print("\n\n".join(reports.lint_markdown(findings, name) for name, findings in results.items()))
    else:
        for number, (name, findings) in enumerate(results.items()):
            if len(results) > 1:
                io.print(("\n" if number else "") + io.paint.bold(name))
            io.print(reports.lint_text(findings, io.paint, snapshots[name]))


def _fix(
    args: argparse.Namespace, snapshots: dict[str, Snapshot], style: HouseStyle, io: IO
) -> dict[str, Snapshot]:
    from tallshelf.core.style import fixed

    if len(snapshots) != 1:
        raise BadArgument("--fix mends one snapshot at a time")
    ((name, snapshot),) = snapshots.items()
    copy, mended = fixed(snapshot, style)
    io.write_file(args.fix, json.dumps(copy.document(), ensure_ascii=False, indent=2) + "\n")
    if args.format == "text":
        many = "suggestion was" if len(mended) == 1 else "suggestions were"
        io.print(f"{len(mended)} {many} applied; {args.fix} holds the copy. What is left:\n")
    return {name: copy}


def _rule(name: str) -> Rule:
    import difflib

    from tallshelf.core.style import RULES

    found = next((rule for rule in RULES if rule.id == name), None)
    if found is None:
        near = difflib.get_close_matches(name, [rule.id for rule in RULES], 1)
        hint = f"Did you mean {near[0]}? " if near else ""
        raise BadArgument(f"there is no rule {name!r}", remedy=f"{hint}`tallshelf lint --rules` lists them.")
    return found


def _explain(name: str, io: IO) -> int:
    rule = _rule(name)
    io.print(f"{io.paint.bold(rule.id)}  {rule.family}, {rule.level}")
    io.print(f"\n{rule.reason}")
    for number, setting in enumerate(rule.settings):
        head = "settings  " if number == 0 else " " * 10
        io.print(f"{head}{setting.name} = {_value(setting.default)}: {setting.means}")
    for word, example in (("bad", rule.bad), ("good", rule.good)):
        text = json.dumps(example, ensure_ascii=True)
        io.print(f"\n{word}\n  {text if len(text) < 600 else text[:599] + '…'}")
    return FINE


def _value(default: int | bool | tuple[str, ...]) -> str:
    return json.dumps(list(default) if isinstance(default, tuple) else default)


def _list_rules(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import rule_document, table
    from tallshelf.core.style import RULES

    if args.format == "json":
        io.print_json([rule_document(rule) for rule in RULES])
    elif args.format == "text":
        rows = [(rule.family, rule.id, rule.level, rule.reason) for rule in RULES]
        io.print(table(rows, ("family", "rule", "level", "reason"), io.paint))
    else:
        raise BadArgument("the list of rules is text or JSON")
    return FINE


def _is_file(reference: str) -> bool:
    """Whether a reference names a whole file that can be read again."""
    place = parse_reference(reference)
    return bool(place.file) and place.file != "-" and not place.item
