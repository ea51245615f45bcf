"""Kits for people: the list, one whole, what is wrong with it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from tallshelf.cli.io import IO

_MOST_LOCKS = 6
_STANDS_IN = {True: "takes the same calls", False: "takes other calls", None: "may take other calls"}


def rows(found: Sequence[Mapping[str, Any]], io: IO) -> None:
    """Print one line for each kit."""
    from tallshelf.core.reports import escape, table

    cells = [
        (
            one["name"],
            one["team_slug"],
            escape(one["environment"]),
            str(one["held_items"]),
            f"{one['tokens']:,}" + (f" of {one['budget']:,}" if one["budget"] else ""),
            one["data_class"],
            _marks(one, io),
        )
        for one in found
    ]
    io.print(table(cells, ("kit", "team", "environment", "items", "tokens", "sees", ""), io.paint))
    io.note("next: tallshelf kit show KIT")


def _marks(one: Mapping[str, Any], io: IO) -> str:
    marks = []
    if one["suspended"]:
        marks.append(io.paint.red("holds what is suspended"))
    if one["deprecated"]:
        marks.append(io.paint.amber("holds what has ended"))
    if one["budget"] and one["tokens"] > one["budget"]:
        marks.append(io.paint.amber("over its budget"))
    return ", ".join(marks)


def waits(document: Mapping[str, Any], io: IO) -> None:
    """Print whom a kit waits for."""
    from tallshelf.core.reports import escape

    if document["raises"]:
        higher = document.get("data_class") or "higher"
        io.print(f"  for a second curator, since it would see {higher} data")
    for one in document["waits_for"]:
        io.print(
            f"  for the owners of {escape(one['server'])} ({escape(one['team'])}), by request {one['request']}"
        )


def proposed(found: Sequence[Mapping[str, Any]], io: IO) -> None:
    """Print the kits that wait to be put."""
    from tallshelf.core.reports import wrap

    for one in found:
        mark = "*" if one["may_answer"] else " "
        io.print(f"{mark} {io.paint.bold(one['name'])} of {one['team']} waits")
        waits(one, io)
        io.print(wrap(f"{one['by']}: {one['reason']}", "    "))
        if one["note"]:
            io.print(io.paint.amber(wrap(one["note"], "    ")))
    if any(one["may_answer"] for one in found):
        io.note("* waits for you. next: tallshelf kit agree KIT, or decline KIT --note TEXT")


def whole(kit: Mapping[str, Any], io: IO) -> None:
    """Print one kit whole."""
    from tallshelf.core.reports import escape, table, wrap

    budget = f" of {kit['budget']:,}" if kit["budget"] else ""
    io.print(f"{io.paint.bold(kit['name'])}  {escape(kit['title'])}")
    io.print(wrap(kit["purpose"], "  "))
    io.print(
        f"  {escape(kit['team_title'])}, {escape(kit['environment'])}; sees {kit['data_class']} data at most; "
        f"about {kit['tokens']:,}{budget} tokens"
    )
    if kit["proposed"]:
        io.print(io.paint.amber("  another one waits to be put:"))
        waits(kit["proposed"], io)
    io.print()
    cells = [
        (f"  {one['server']}@{one['version']}", escape(one["item"]), _risk(one, io), f"{one['tokens']:,}")
        for one in kit["lock"]
    ]
    io.print(table(cells, ("  holds", "item", "does", "tokens"), io.paint))
    problems(kit, io)
    behind(kit, io)
    for mix_up in kit["mix_ups"][:5]:
        a, b = (f"{mix_up[side]['server']}#{mix_up[side]['item']}" for side in ("a", "b"))
        io.print(wrap(f"a model may take {a} for {b}", "    ", "  ~ "))
    io.print()
    history(kit["history"][:_MOST_LOCKS], io)
    if len(kit["history"]) > _MOST_LOCKS:
        io.print(f"  and {len(kit['history']) - _MOST_LOCKS} earlier ones")
    if kit["behind"]:
        io.note(f"next: tallshelf kit move {kit['name']}")


def _risk(one: Mapping[str, Any], io: IO) -> str:
    colour = {"reads": io.paint.green, "writes": io.paint.amber, "destroys": io.paint.red}[one["effect"]]
    return colour(one["effect"]) + (", reaches outside" if one["outside"] else "")


def problems(kit: Mapping[str, Any], io: IO) -> None:
    """Print what is wrong with a kit."""
    from tallshelf.core.reports import wrap

    for problem in kit["problems"]:
        io.print(io.paint.amber(wrap(f"{problem['message']}", "    ", "  ✗ ")))


def behind(kit: Mapping[str, Any], io: IO) -> None:
    """Print of which servers it holds another release than its picks take, and why it stays."""
    from tallshelf.core.reports import wrap

    for one in kit["behind"]:
        why = f"; stays, since {one['why']}" if one["why"] else "; it follows by itself"
        io.print(
            wrap(f"{one['server']} {one['holds']}, and its pick takes {one['takes']}{why}", "    ", "  → ")
        )


def history(locks: Sequence[Mapping[str, Any]], io: IO) -> None:
    """Print locks, newest first: what moved, when and by whom."""
    from tallshelf.core.reports import escape

    for lock in locks:
        moves = ", ".join(
            f"{move['server']} {move['before'] or 'new'} → {move['after'] or 'none'}"
            for move in lock["moves"]
        )
        by = escape(lock["by"]) or "by itself"
        io.print(f"  {lock['at'][:10]}  {by}: {moves or escape(lock['because'])}")


def ending(ends: Mapping[str, Any], io: IO) -> None:
    """Print whom it hits that something is used no more, and what could stand in."""
    from tallshelf.core.reports import escape, hits_text

    if ends["kits"]:
        io.print(hits_text(ends["kits"], io.paint))
    for stand_in in ends["stand_ins"][:_MOST_LOCKS]:
        item = escape(stand_in["item"].partition("#")[2])
        said = f"{stand_in['kind']}, {_STANDS_IN[stand_in['stands_in']]}"
        io.print(f"  → {escape(stand_in['by'])} could stand in for {item}: {said}")
