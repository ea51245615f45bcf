"""``tallshelf ask``: ask that a release ends, a suspension is lifted, or a data class or version scheme changes."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import request_text
from tallshelf.core.errors import BadArgument
from tallshelf.core.routing import ASKED_FOR, KINDS, Term
from tallshelf.core.snapshot import Reference, parse_reference

DESCRIPTION = """\
Ask for an act on a release or a server. It is sent to the desks that must agree, like a release, and is
carried out when the last of them does. To publish, use submit."""
EXAMPLES = """\
tallshelf ask deprecate berth-planner@1.4.1 --until 2027-03-01 --instead berth-planner --reason 'No depths.'
tallshelf ask deprecate-item tide-tables#get_clearance --instead berth-planner --reason 'The plan tells it.'
tallshelf ask keep-item tide-tables#get_clearance --reason 'Two kits cannot do without it yet.'
tallshelf ask withdraw crew-roster@2.0.0 --reason 'It ignores rest hours.'
tallshelf ask lift crew-travel#cancel_travel --reason 'Mended in 2.0.1.'
tallshelf ask data-class muster-drills public --reason 'The plans hang in every mess room.'
tallshelf ask version-scheme muster-drills calendar --reason 'It is released by the month.'"""


_REFERENCES = {
    "release": "server@version",
    "suspension": "server, or server#item",
    "server": "server",
    "item": "server#item",
}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    acts = parser.add_subparsers(dest="act", required=True, metavar="ACT")
    for kind in (KINDS[name] for name in ASKED_FOR):
        argument_parser = acts.add_parser(kind.name, help=kind.words)
        argument_parser.add_argument("reference", metavar="REFERENCE", help=_REFERENCES[kind.subject])
        for term in kind.terms:
            _add_term(argument_parser, term)
        argument_parser.add_argument("--reason", required=True, metavar="TEXT", help="why; the desks read it")
        options.add_format(argument_parser)


def _add_term(parser: argparse.ArgumentParser, term: Term) -> None:
    if term.form == "choice":
        words = ", ".join(term.choices[:-1]) + f" or {term.choices[-1]}"
        parser.add_argument(
            term.name, metavar=term.option.upper() or "CLASS", choices=term.choices, help=words
        )
    else:
        metavar, words = term.form.upper(), term.label[0].lower() + term.label[1:]
        parser.add_argument(f"--{term.option}", dest=term.name, default="", metavar=metavar, help=words)


def run(args: argparse.Namespace, io: IO) -> int:
    place = parse_reference(args.reference)
    if place.file:
        raise BadArgument("this is asked of a server in the catalog", remedy="Name it by its slug.")
    request_detail = io.shelf().ask(args.act, place.server, args.reason, **_terms(args, place))
    if args.format == "json":
        io.print_json(request_detail)
        return FINE
    io.print(request_text(request_detail, io.paint))
    if request_detail["state"] == "open":
        io.note(f"next: the desks above are asked; watch it with tallshelf show {request_detail['id']}")
    return FINE


def _terms(args: argparse.Namespace, place: Reference) -> dict[str, Any]:
    kind = KINDS[args.act]
    terms: dict[str, Any] = {term.name: _term(term, getattr(args, term.name)) for term in kind.terms}
    if kind.subject == "item" and not place.item:
        raise BadArgument("name the item", remedy=f"Such as {place.server}#get_plan.")
    if kind.subject in ("suspension", "item"):
        terms["item"] = place.item
    if kind.subject == "release":
        if not place.version or place.item:
            raise BadArgument("name a release", remedy=f"Such as {place.server}@1.0.0.")
        terms["version"] = place.version
    return terms


def _term(term: Term, given: str) -> str | None:
    if term.form == "date":
        return options.end_of_day(given) if given else None
    return given
