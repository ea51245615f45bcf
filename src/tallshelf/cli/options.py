"""Options that several commands share."""

from __future__ import annotations

import argparse
import shlex
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tallshelf.cli import oauth
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import (
    LaunchRecord,
    Snapshot,
    parse_launches,
    parse_reference,
    parse_snapshot,
)
from tallshelf.core.words.terms import NO_TERMS, HouseTerms

if TYPE_CHECKING:
    from tallshelf.core.style import HouseStyle
    from tallshelf.protocol import Bounds, Endpoint


def add_format(parser: argparse.ArgumentParser, *formats: str) -> None:
    """Add ``--format`` with ``text`` first."""
    parser.add_argument("--format", choices=formats or ("text", "json"), default="text", help="how to print")


def add_breaking(parser: argparse.ArgumentParser) -> None:
    """Add the option by which a release of a calendar scheme is declared to break."""
    parser.add_argument("--breaking", action="store_true", help="declare that a calendar version breaks")


def add_style(parser: argparse.ArgumentParser) -> None:
    """Add ``--style``."""
    parser.add_argument("--style", metavar="FILE", help="the house style, as TOML")


def style_of(path: str | None, io: IO) -> HouseStyle:
    """Return the house style of a file, the default one for none."""
    from tallshelf.core.style import DEFAULT_STYLE, parse_style

    return parse_style(text_of(path, io)) if path else DEFAULT_STYLE


def terms(path: str | None, references: Iterable[str], io: IO, *, on_shelf: bool = False) -> HouseTerms:
    """Return the terms that are read as the same: those of a style's file, else those of the shelf that is asked.

    None is asked where all references name files, unless it is ``on_shelf`` anyway.
    """
    if path:
        return style_of(path, io).terms
    if not on_shelf and all(parse_reference(reference).file for reference in references):
        return NO_TERMS
    told = io.shelf().style().get("read_as_same", ())  # a service that is older says none
    return HouseTerms(tuple((term, instead) for term, instead in told))


def text_of(path: str, io: IO) -> str:
    """Return the text of a file, or of standard input for ``-``; raise `BadArgument` when it is not UTF-8."""
    try:
        return io.read_bytes(path).decode("utf-8")
    except UnicodeDecodeError:
        raise BadArgument(f"{path} is not UTF-8") from None


def add_answers(acts: Any, *answers: tuple[str, str]) -> None:
    """Add acts that answer what has a number, each with a note: ``(name, words)``."""
    for name, words in answers:
        one = acts.add_parser(name, help=words)
        one.add_argument("number", type=int)
        one.add_argument("--note", default="", metavar="TEXT")
        add_format(one)


def add_endpoint(parser: argparse.ArgumentParser) -> None:
    """Add the options that say where a tool server is and how to sign in there."""
    where = parser.add_mutually_exclusive_group(required=True)
    where.add_argument("--stdio", metavar="'COMMAND ARG…'", help="start this command and talk over its pipes")
    where.add_argument("--http", metavar="URL", help="connect to this Streamable HTTP address")
    where.add_argument(
        "--event-stream",
        metavar="URL",
        help="connect by the old event-stream transport, which MCP has deprecated",
    )
    parser.add_argument(
        "--pass",
        dest="passed",
        metavar="VARIABLE",
        action="append",
        default=[],
        help="pass an environment variable on",
    )
    parser.add_argument(
        "--bearer-from",
        metavar="SOURCE",
        help="bearer token from an environment variable, or from a file as @PATH",
    )
    parser.add_argument(
        "--header-from",
        metavar="NAME=SOURCE",
        action="append",
        default=[],
        help="a header from an environment variable, or from a file as NAME=@PATH",
    )
    parser.add_argument(
        "--time-limit", type=float, default=20.0, metavar="SECONDS", help="for each answer (20)"
    )
    oauth.add_arguments(parser)


def endpoint_from(args: argparse.Namespace, io: IO) -> tuple[Endpoint, str, Bounds]:
    """Return the endpoint, the name of its credential, and the bounds that the options ask for."""
    # The SDK takes most of a second to load; commands that capture nothing do without it.
    from tallshelf.protocol import Bounds, HttpEndpoint, StdioEndpoint

    bounds = Bounds(request_seconds=args.time_limit, total_seconds=args.time_limit * 5)
    if args.stdio is not None:
        if args.bearer_from or args.header_from or args.oauth:
            raise BadArgument(
                "headers go with an address", remedy="Pass variables to a command by --pass NAME."
            )
        try:
            words = shlex.split(args.stdio)
        except ValueError as fault:
            raise BadArgument(f"the command cannot be read: {fault}") from None
        if not words:
            raise BadArgument("--stdio needs a command")
        env = {name: _variable(name, io) for name in args.passed}
        return StdioEndpoint(words[0], tuple(words[1:]), env), ", ".join(args.passed), bounds
    if args.passed:
        raise BadArgument("--pass goes with --stdio", remedy="Send a header by --header-from NAME=VARIABLE.")
    headers, names = {}, []
    for pair in args.header_from:
        name, equals, source = pair.partition("=")
        if not equals or not name or not source:
            raise BadArgument(f"{pair!r} is not NAME=SOURCE")
        headers[name] = secret(source, io)
        names.append(name)
    if args.bearer_from:
        headers["Authorization"] = f"Bearer {secret(args.bearer_from, io)}"
        names.append(args.bearer_from)
    url = args.http if args.event_stream is None else args.event_stream
    if args.oauth and any(name.lower() == "authorization" for name in headers):
        raise BadArgument("--oauth signs requests itself", remedy="Leave out --bearer-from.")
    own_secret = secret(args.oauth_secret_from, io) if args.oauth_secret_from else ""
    sign_in = oauth.sign_in_from(args, url, own_secret, io)
    used = ", ".join([*names, *(["OAuth"] if sign_in else [])])
    if args.event_stream is not None:
        return HttpEndpoint(url, headers, transport="http+sse", sign_in=sign_in), used, bounds
    return HttpEndpoint(url, headers, sign_in=sign_in), used, bounds


def secret(source: str, io: IO) -> str:
    """Return a secret from an environment variable, or from a file named as ``@PATH``."""
    if not source.startswith("@"):
        return _variable(source, io)
    try:
        return Path(source[1:]).read_text("utf-8").strip()
    except OSError as fault:
        raise BadArgument(f"cannot read {source[1:]}: {fault.strerror}") from None


def _variable(name: str, io: IO) -> str:
    value = io.environ.get(name)
    if not value:
        raise BadArgument(
            f"the environment variable {name} is not set",
            remedy="Secrets come from the environment or a file (@PATH), never from the command line.",
        )
    return value


def load(reference: str, io: IO) -> tuple[Snapshot, str | None]:
    """Return the snapshot that a reference names, and its version where it has one.

    A file is read; anything else is asked of the service, the current release by default.
    """
    place = parse_reference(reference)
    if place.file:
        snapshot = parse_snapshot(io.read_bytes(place.file))
        return _narrowed(snapshot, place.item), snapshot.declared_version
    shelf = io.shelf()
    release = shelf.release(place.server, place.version or "current")
    return _narrowed(shelf.snapshot(place.server, release["version"]), place.item), release["version"]


def launches(reference: str, io: IO) -> tuple[LaunchRecord, ...] | None:
    """Return the launch records of the whole release that a reference names; None for a file or one item."""
    place = parse_reference(reference)
    if place.file or place.item:
        return None
    return parse_launches(io.shelf().release(place.server, place.version or "current")["launch"])


def _narrowed(snapshot: Snapshot, identity: str) -> Snapshot:
    if not identity:
        return snapshot
    lists = {
        name: tuple(item for item in items if item.identity == identity)
        for name, items in snapshot.lists.items()
    }
    if not any(lists.values()):
        raise BadArgument(f"the snapshot has no item {identity!r}")
    return Snapshot(snapshot.server, snapshot.captured, lists)


def end_of_day(text: str) -> str:
    """Return the end of a day, in UTC; raise `BadArgument` when it is none."""
    from datetime import UTC, date, datetime, time

    try:
        return datetime.combine(date.fromisoformat(text), time(23, 59, 59), UTC).isoformat()
    except ValueError:
        raise BadArgument(f"{text!r} is no date", remedy="Write it as 2027-03-01.") from None
