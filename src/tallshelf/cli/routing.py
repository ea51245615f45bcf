"""``tallshelf routing``: the rules by which requests reach desks: show, try, apply, answer."""

from __future__ import annotations

import argparse
from typing import TYPE_CHECKING, Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day

if TYPE_CHECKING:
    from tallshelf.client import Shelf

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
    show = acts.add_parser("show", help="print the rules in force, as TOML")
    show.add_argument("--version", type=int, metavar="NUMBER", help="another version")
    options.add_format(show)
    options.add_format(acts.add_parser("history", help="list every version, and the proposed ones"))
    tried = acts.add_parser("try", help="say who would have been asked by other rules")
    tried.add_argument("file", metavar="FILE", help="the rules, as TOML")
    tried.add_argument("--days", type=int, default=90, metavar="NUMBER", help="how far to look back (90)")
    options.add_format(tried)
    apply = acts.add_parser("apply", help="put rules in force, or propose them")
    apply.add_argument("file", metavar="FILE", help="the rules, as TOML")
    apply.add_argument("--note", required=True, metavar="TEXT", help="what is changed, and why")
    apply.add_argument(
        "--seen", type=int, metavar="NUMBER", help="refuse when another version is in force than this"
    )
    options.add_format(apply)
    answer = acts.add_parser("answer", help="agree to proposed rules, or decline them")
    answer.add_argument("version", type=int)
    answer.add_argument("answer", choices=("agree", "decline"))
    answer.add_argument("--note", default="", metavar="TEXT")
    options.add_format(answer)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    if args.act == "show":
        return _show(args, shelf, io)
    if args.act == "history":
        return _history(args, shelf, io)
    if args.act == "try":
        return _tried(shelf.try_routing(options.text_of(args.file, io), days=args.days), args, io)
    if args.act == "answer":
        found = shelf.answer_routing(args.version, args.answer, args.note)
    else:
        found = shelf.apply_routing(options.text_of(args.file, io), args.note, seen=args.seen)
    if args.format == "json":
        io.print_json(found)
        return FINE
    io.print(f"Version {found['version']} of the routing rules is {found['state']}.")
    for words in found["loosened"] if found["state"] == "proposed" else ():
        io.print(f"  it asks less: {words}")
    if found["state"] == "proposed":
        io.note(f"next: a second curator runs tallshelf routing answer {found['version']} agree")
    return FINE


def _show(args: argparse.Namespace, shelf: Shelf, io: IO) -> int:
    found = shelf.routing(args.version)
    if args.format == "json":
        io.print_json(found)
    else:
        io.print(found["text"].rstrip("\n"))
        io.note(f"version {found['version']}, {found['state']}")
    return FINE


def _history(args: argparse.Namespace, shelf: Shelf, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    rows = shelf.routing_versions()
    if args.format == "json":
        io.print_json(rows)
        return FINE
    cells = [
        (
            str(row["version"]),
            row["state"],
            day(row["at"]),
            row["by"],
            row["agreed_by"] or "-",
            escape(row["note"]),
        )
        for row in rows
    ]
    io.print(table(cells, ("no.", "state", "at", "by", "agreed by", "note"), io.paint))
    if any(row["may_answer"] for row in rows):
        io.note("next: tallshelf routing show --version NUMBER, then tallshelf routing answer NUMBER agree")
    return FINE


def _tried(found: dict[str, Any], args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import table

    if args.format == "json":
        io.print_json(found)
        return FINE
    io.print(f"Tried on {found['requests']} requests of the last {args.days} days.")
    cells = [
        (
            row["desk"],
            f"{row['requests_before']} -> {row['requests_after']}",
            f"{row['sign_offs_before']} -> {row['sign_offs_after']}",
        )
        for row in found["desks"]
    ]
    io.print(table(cells, ("desk", "requests", "sign-offs"), io.paint))
    before, after = found["approved_by_rule_before"], found["approved_by_rule_after"]
    if before or after:
        io.print(f"Approved by a rule alone: {before} -> {after}.")
    for one in found["moved"][:10]:
        added = f"also {', '.join(one['added'])}" if one["added"] else ""
        dropped = f"no more {', '.join(one['dropped'])}" if one["dropped"] else ""
        io.print(
            f"  request {one['request']}: {'; '.join(filter(None, (added, dropped))) or 'other numbers'}"
        )
    if len(found["moved"]) > 10:
        io.print(f"  and {len(found['moved']) - 10} more that would have gone another way")
    for words in found["loosened"]:
        io.print(io.paint.amber(f"it asks less: {words}"))
    for words in found["faults"]:
        io.print(io.paint.red(f"it cannot be in force: {words}"))
    if not found["faults"]:
        io.note("next: tallshelf routing apply")
    return FINE
