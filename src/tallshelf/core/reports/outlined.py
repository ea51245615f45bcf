"""An outline as text and as a JSON document, apart from the others: it needs nothing that judges."""

from __future__ import annotations

from typing import Any

from tallshelf.core.reports.lines import count, escape, wrap
from tallshelf.core.reports.paint import PLAIN, Paint
from tallshelf.core.snapshot import TOKEN_METHOD, Line, Outline


def outline_text(outline: Outline, paint: Paint = PLAIN) -> str:
    """Return what the model will see, for people."""
    name = escape(outline.server) or "(a server that does not name itself)"
    lines = [
        f"{paint.bold(name)}: {count(len(outline.items), 'item')}, about {outline.tokens:,} tokens",
        paint.dim(f"({TOKEN_METHOD})"),
    ]
    if outline.instructions:
        lines += ["", wrap(outline.instructions, "  ")]
    for item in outline.items:
        lines += [
            "",
            f"{paint.bold(escape(item.name))}  {paint.dim(f'{item.kind}, about {item.tokens:,} tokens')}",
        ]
        lines.append(wrap(item.description, "  ") if item.description else paint.amber("  (no description)"))
        lines += _members(item.parameters, "  ", paint)
        if item.results:
            lines += ["  returns", *_members(item.results, "    ", paint)]
    return "\n".join(lines)


def _members(members: tuple[Line, ...], indent: str, paint: Paint) -> list[str]:
    name_width = max((len(escape(line.name)) for line in members), default=0)
    lines = []
    for line in members:
        words = escape(line.type) + ("" if line.required else ", optional")
        head = f"{indent}{escape(line.name).ljust(name_width)}  {words}"
        if not line.description:
            lines.append(head)
            continue
        margin = max(len(head) + 2, 36)
        if margin > 60:
            lines += [head, wrap(line.description, " " * 36)]
        else:
            lines.append(wrap(line.description, " " * margin, head.ljust(margin)))
    return lines


def outline_document(outline: Outline) -> dict[str, Any]:
    """Return an outline as a ``tallshelf.outline/1`` document."""
    return {
        "format": "tallshelf.outline/1",
        "server": outline.server,
        "instructions": outline.instructions,
        "tokens": outline.tokens,
        "token_method": TOKEN_METHOD,
        "items": [
            {
                "item": item.identity,
                "name": item.name,
                "kind": item.kind,
                "description": item.description,
                "tokens": item.tokens,
                "parameters": [_line(line) for line in item.parameters],
                "results": [_line(line) for line in item.results],
            }
            for item in outline.items
        ],
    }


def _line(line: Line) -> dict[str, Any]:
    return {
        "name": line.name,
        "type": line.type,
        "required": line.required,
        "description": line.description,
        "pointer": line.pointer,
    }
