"""``tallshelf find``: servers and tools by what they do."""

from __future__ import annotations

import argparse
from collections.abc import Iterable
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.io import IO

DESCRIPTION = """\
Find servers, tools, parameters, resources and prompts by what they do. All words must occur; verbs
stand for their like (get finds fetch), and a misspelled word is read as the nearest one."""
EXAMPLES = """\
tallshelf find free berth
tallshelf find 'when do certificates expire' --kind tool
tallshelf find crew --team crew --format json"""

_TEXT_WIDTH = 96


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("words", nargs="+", metavar="WORD", help="what it should do")
    parser.add_argument(
        "--kind", default="", choices=("server", "tool", "resource", "template", "prompt"), help="only these"
    )
    parser.add_argument("--team", default="", metavar="SLUG", help="only servers of this team")
    parser.add_argument("--limit", type=int, default=10, metavar="NUMBER", help="how many at most (10)")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    outcome = io.shelf().find(" ".join(args.words), kind=args.kind, team=args.team, limit=args.limit)
    if args.format == "json":
        io.print_json({"format": "tallshelf.found/1", **outcome})
        return 0
    for word, near in outcome["respelled"].items():
        io.note(f"nothing has {word!r}; looked for {' or '.join(near)} instead")
    if outcome["fit"] == "none" and outcome["results"]:
        io.print("Nothing on the shelf seems to do that. What is nearest:\n")
    if not outcome["results"]:
        io.print("Nothing does that.")
        io.note("next: try fewer or other words")
        return 0
    io.print("\n\n".join(_hit(row, io) for row in outcome["results"]))
    usable = [row for row in outcome["results"] if not row["suspended"]]
    first = (usable or outcome["results"])[0]
    io.note(f"next: tallshelf show {_reference(first)}, or tallshelf connect {first['server']}")
    return 0


def _reference(row: dict[str, Any]) -> str:
    return f"{row['server']}#{row['item']}" if row["item"] else str(row["server"])


def _hit(row: dict[str, Any], io: IO) -> str:
    from tallshelf.core.reports import escape

    where = "" if row["kind"] == "server" else f"  {row['server']}"
    version = f" {row['version']}" if row["version"] else ", no release yet"
    about = io.paint.dim(f"{row['kind']}{where}{version}, {escape(row['team_title'])}")
    lines = [f"{_marked(row['name'], io)}  {about}"]
    for note in row["notes"]:
        lines.append(f"    {escape(note['by'])}: {escape(note['text'])}")
    if row["deprecated"]:
        lines.append(io.paint.amber(f"    {escape(row['deprecated'])}"))
    if row["suspended"]:
        lines.append(io.paint.red(f"    suspended: {escape(row['suspended'])}"))
    if row["preferred"]:
        lines.append(io.paint.amber(f"    use {escape(row['preferred'])} instead: it is preferred"))
    if row["text"]:
        lines += _wrapped(row["text"], io)
    for parameter in row["parameters"]:
        lines += _wrapped(parameter, io)
    otherwise = [
        f"{say['asked']} as {say['said']}" for say in row["says"] if say["said"] and not _is_form(say)
    ]
    unsaid = [say["asked"] for say in row["says"] if not say["said"]]
    told = [*([f"read {', '.join(otherwise)}"] if otherwise else [])]
    told += [f"says nothing of {', '.join(unsaid)}"] if unsaid else []
    if told:
        lines.append(io.paint.dim(f"    ({escape('; '.join(told))})"))
    return "\n".join(lines)


def _is_form(one: dict[str, Any]) -> bool:
    """Whether a result has the word itself, or another form of it."""
    asked, said = one["asked"], one["said"]
    return bool(said[:4] == asked[:4] or said.startswith(asked))


def _marked(pieces: Iterable[dict[str, Any]], io: IO) -> str:
    from tallshelf.core.reports import escape

    return "".join(
        io.paint.bold(escape(piece["text"])) if piece["hit"] else escape(piece["text"]) for piece in pieces
    )


def _wrapped(pieces: list[dict[str, Any]], io: IO) -> list[str]:
    """Wrap a text at its words and then mark the hits, since marks have no width."""
    from tallshelf.core.reports import escape

    lines, width = [""], 0
    for piece in pieces:
        for word in escape(piece["text"]).replace(" ", " \n").split("\n"):
            if width + len(word.rstrip()) > _TEXT_WIDTH:
                lines, width = [*lines, ""], 0
            lines[-1] += io.paint.bold(word) if piece["hit"] else word
            width += len(word)
    return [f"    {line.rstrip()}" for line in lines]
